/**
 * A table that is asked by names from outside: it has what it names and nothing else. A plain object would also answer to `constructor`,
 * `toString` and `__proto__`.
 *
 * table({ EUR: 2 })['constructor'] //=> undefined
 */
export const table = <T extends object>(entries: T): T =>
  Object.freeze(Object.assign(Object.create(null) as object, entries) as T)

/**
 * The entry of a table under a name that came from outside, for tables that are plain objects.
 *
 * entryOf({ all: 1 }, 'toString') //=> undefined
 */
export const entryOf = <T>(entries: Readonly<Record<string, T>>, name: string): T | undefined =>
  Object.hasOwn(entries, name) ? entries[name] : undefined
