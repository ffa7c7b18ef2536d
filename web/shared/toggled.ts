/** The same set with one taken out, or taken in. */
export function toggled<T>(set: ReadonlySet<T>, one: T): Set<T> {
  const next = new Set(set)
  if (!next.delete(one)) next.add(one)
  return next
}
