import { type DeskEntry, urgency } from '#core/desk/entry.ts'

type Waiting = Pick<DeskEntry, 'act' | 'tone' | 'needBy' | 'since'>

/** What waits, put together by what there is to do; the dearest to leave stands first, among groups and within each. */
export function deskGroups<Item extends Waiting>(items: readonly Item[]): { act: string; items: Item[] }[] {
  const sorted = [...items].sort((a, b) => (urgency(a) < urgency(b) ? -1 : urgency(a) > urgency(b) ? 1 : 0))
  const groups = new Map<string, Item[]>()
  for (const item of sorted) groups.set(item.act, [...(groups.get(item.act) ?? []), item])
  return [...groups].map(([act, some]) => ({ act, items: some }))
}
