import { type Reason, stop } from '#core/reasons.ts'

/** A category, and the one that it hangs under. */
export interface Hanging {
  readonly name: string
  readonly parent?: string | null | undefined
}

/** What stands against hanging a category under another one: that is not there, is itself, or hangs under it. */
export function whyNotHang(name: string, parent: string | null, all: readonly Hanging[]): Reason[] {
  const parents = new Map(all.map(one => [one.name, one.parent ?? null]))
  if (parent !== null && !parents.has(parent)) return [stop('category.noParent', { parent }, { place: 'parent' })]
  const seen = new Set<string>()
  for (let above = parent; above !== null && !seen.has(above); above = parents.get(above) ?? null) {
    if (above === name) return [stop('category.circle', { name }, { place: 'parent' })]
    seen.add(above)
  }
  return []
}

export interface Branch<T> {
  readonly one: T
  readonly children: Branch<T>[]
}

/** Categories as they hang under each other, by name on each level; what hangs under something that is not there stands at the top. */
export function asBranches<T extends Hanging>(all: readonly T[]): Branch<T>[] {
  const branches = new Map(all.map(one => [one.name, { one, children: [] as Branch<T>[] }]))
  const roots: Branch<T>[] = []
  for (const branch of [...branches.values()].sort((a, b) => (a.one.name < b.one.name ? -1 : 1)))
    (branches.get(branch.one.parent ?? '')?.children ?? roots).push(branch)
  return roots
}

/** A category and those above it, itself first; a circle ends where it closes. withAbove('Pumps', new Map([['Pumps', 'Water']])) //=> ['Pumps', 'Water'] */
export function withAbove(name: string, parents: ReadonlyMap<string, string | null>): string[] {
  const path: string[] = []
  for (let one: string | null = name; one !== null && one !== '' && !path.includes(one); one = parents.get(one) ?? null)
    path.push(one)
  return path
}
