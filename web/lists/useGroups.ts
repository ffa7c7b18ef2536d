import { computed, ref, shallowRef, watch, type ComputedRef } from 'vue'
import type { ListPage, ListRow } from '#contract/fields.ts'
import type { defineList, ListSums } from '#contract/lists/list.ts'
import type { AskedJson } from '#contract/lists/views.ts'
import { type Conditions, writeConditions } from '#core/lists/conditions.ts'
import { groupCondition } from '#core/lists/groups.ts'
import { sumTexts } from '#core/money/text.ts'
import { api } from '#web/api.ts'
import { kindTopic } from '#web/news/news.ts'
import { cellText } from '#web/lists/listColumns.ts'
import { label, monthText } from '#web/shared/words.ts'
import type { TableItem } from '#web/shared/table/table.ts'
import { useRead } from '#web/shared/useRead.ts'

/** Rows of a group that are shown in it; more of them are a list of their own. */
const MOST_ROWS = 200
type Group = ListSums['groups'][number]

/** A group's value as it is read. */
export const groupLabel = (key: string, value: string | null): string => {
  if (value === null) return `${label('column', key)}: none`
  return /^\d{4}-\d\d$/.test(value) ? monthText(value) : cellText(key, value)
}

const items = new WeakMap<ListRow, TableItem<ListRow>>()
/** The same line for the same row: what is there already is not drawn anew when more rows come. */
function asItem(row: ListRow): TableItem<ListRow> {
  const item = items.get(row) ?? { kind: 'row', id: row.id, name: row.number, row }
  items.set(row, item)
  return item
}

/** What a list comes to, in all and by group, and the rows of the groups that are unfolded. */
export function useGroups(parts: {
  list: ReturnType<typeof defineList>
  asked: ComputedRef<AskedJson>
  page: ComputedRef<ListPage | undefined>
  rows: ComputedRef<readonly ListRow[]>
  wanted: () => boolean
  narrow: (where: string) => void
}) {
  const { list, asked, page } = parts
  const topics = (): string[] => list.kinds.map(kindTopic)
  const query = computed(() => {
    const { sort: _, ...rest } = asked.value
    return { query: rest }
  })
  const sums = useRead(list.sums, query, { when: parts.wanted, topics })
  const grouped = computed(() => (asked.value.group && sums.data.value ? sums.data.value.by : []))
  const open = ref(new Set<string>())
  const inside = shallowRef<ReadonlyMap<string, { rows: ListRow[]; more: boolean }>>(new Map())
  watch(query, () => {
    open.value = new Set()
    inside.value = new Map()
  })

  const idOf = (values: readonly (string | null)[]): string => `group-${JSON.stringify(values)}`
  /** What has to be asked to see the rows of a group. */
  function whereOf(values: readonly (string | null)[]): string | undefined {
    const columns = new Map(page.value?.columns.map(column => [column.key, column]))
    const own = values.map((value, index) => groupCondition(columns.get(grouped.value[index]!)!, value))
    if (own.some(one => one === undefined)) return undefined
    return writeConditions([...(page.value!.conditions as Conditions), ...own.map(one => [one!])])
  }
  async function load(values: readonly (string | null)[]): Promise<void> {
    const where = whereOf(values)
    if (where === undefined) return
    const { group: _, where: __, ...rest } = asked.value
    const answer = await api(list.page, { query: { ...rest, where, limit: MOST_ROWS } })
    inside.value = new Map(inside.value).set(idOf(values), { rows: answer.rows, more: answer.next !== null })
  }
  const byId = computed(() => {
    const map = new Map<string, readonly (string | null)[]>()
    for (const { values } of sums.data.value?.groups ?? [])
      for (let depth = 1; depth <= values.length; depth++) map.set(idOf(values.slice(0, depth)), values.slice(0, depth))
    return map
  })
  function fold(id: string): void {
    const values = byId.value.get(id)
    if (!values) return
    const next = new Set(open.value)
    if (!next.delete(id)) {
      next.add(id)
      if (values.length === grouped.value.length) void load(values)
    }
    open.value = next
  }
  watch(sums.data, () => {
    for (const id of open.value) {
      const values = byId.value.get(id)
      if (values?.length === grouped.value.length) void load(values)
    }
  })

  const sumsOf = (groups: readonly Group[]): Map<string, string> => {
    const all = new Map<string, string>()
    if ((groups[0]?.amount ?? null) !== null) all.set('amount', sumTexts(groups.map(group => group.amount ?? '0')))
    for (const { key } of groups[0]?.figures ?? [])
      all.set(key, sumTexts(groups.map(group => group.figures.find(one => one.key === key)?.sum ?? '0')))
    return all
  }
  const headOf = (groups: readonly Group[], values: readonly (string | null)[]): TableItem<ListRow> => ({
    kind: 'group',
    id: idOf(values),
    depth: values.length - 1,
    label: groupLabel(grouped.value[values.length - 1]!, values.at(-1)!),
    count: groups.reduce((sum, group) => sum + group.count, 0),
    sums: sumsOf(groups),
    open: open.value.has(idOf(values)),
  })
  function rowsOf(values: readonly (string | null)[]): TableItem<ListRow>[] {
    const found = inside.value.get(idOf(values))
    const rows = (found?.rows ?? []).map(asItem)
    if (!found?.more) return rows
    const act = (): void => parts.narrow(whereOf(values)!)
    return [...rows, { kind: 'note', id: `more-${idOf(values)}`, text: 'More of them: show this group alone', act }]
  }
  /** Groups below those of the columns before. */
  function itemsOf(groups: readonly Group[], before: readonly (string | null)[]): TableItem<ListRow>[] {
    const depth = before.length
    const values = [...new Set(groups.map(group => group.values[depth] ?? null))]
    return values.flatMap(value => {
      const own = groups.filter(group => (group.values[depth] ?? null) === value)
      const here = [...before, value]
      const head = headOf(own, here)
      if (!open.value.has(idOf(here))) return [head]
      return [head, ...(here.length < grouped.value.length ? itemsOf(own, here) : rowsOf(here))]
    })
  }
  const lines = computed<TableItem<ListRow>[]>(() =>
    grouped.value.length > 0 ? itemsOf(sums.data.value?.groups ?? [], []) : parts.rows.value.map(asItem),
  )
  return {
    items: lines,
    fold,
    count: computed(() => sums.data.value?.groups.reduce((sum, group) => sum + group.count, 0)),
    totals: computed(() => (sums.data.value ? sumsOf(sums.data.value.groups) : undefined)),
    currency: computed(() => sums.data.value?.currency ?? ''),
  }
}
