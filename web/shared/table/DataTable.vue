<script setup lang="ts" generic="Row extends object">
import { useElementSize } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, shallowRef, watch } from 'vue'
import { arrange, changeLook, type ColumnLook, moveLook } from '#core/lists/looks.ts'
import { sayInPassing } from '#web/shared/message.ts'
import {
  asTable,
  decimals,
  fitRoom,
  fitWidths,
  type TableColumn,
  type TableItem,
  textWidth,
  typeLoaded,
} from '#web/shared/table/table.ts'
import TableHead from '#web/shared/table/TableHead.vue'
import TableLine from '#web/shared/table/TableLine.vue'
import TableTotals from '#web/shared/table/TableTotals.vue'
import { useColumns } from '#web/shared/table/useColumns.ts'
import { useSeats } from '#web/shared/table/useSeats.ts'

/**
 * A table of any length: only the lines in sight are drawn. Its columns are sized, moved, pinned and hidden as `looks` says; its lines are
 * walked with the arrows, chosen with the space bar, opened with Enter and copied as a table with Ctrl+C.
 */
const props = defineProps<{
  name: string
  columns: readonly TableColumn<Row>[]
  looks: readonly ColumnLook[]
  items: readonly TableItem<Row>[]
  /** What all rows come to, by column, where it adds up. */
  totals?: ReadonlyMap<string, string> | undefined
  orders?: readonly { column: string; descending: boolean }[]
  choosing?: boolean
  chosen?: ReadonlySet<string>
  selected?: string | undefined
  busy?: boolean
  density?: 'calm' | 'dense'
}>()
const emit = defineEmits<{
  looks: [looks: ColumnLook[]]
  order: [key: string, beside: boolean]
  open: [row: Row]
  fold: [id: string]
  choose: [chosen: Set<string>]
  chooseAll: []
  end: []
}>()

const scroller = ref<HTMLElement>()
const { width: room, height: sight } = useElementSize(scroller)
const at = ref(-1)
const cell = ref(0)
const height = computed(() => (props.density === 'dense' ? 26 : 32))
const rows = computed(() => props.items.flatMap(item => (item.kind === 'row' ? [item.row] : [])))
const arranged = computed(
  () =>
    arrange(
      props.looks,
      props.columns.map(column => column.key),
    ).columns,
)
/** Rows of the first page say how wide a column has to be; more rows do not make it jump, nor are widths computed again for them. */
const SAMPLE = 80
const sample = computed<readonly Row[]>(before => {
  const now = rows.value.slice(0, SAMPLE)
  return before?.length === now.length && before.every((row, index) => row === now[index]) ? before : now
})
const measure = shallowRef(textWidth)
onMounted(async () => {
  await typeLoaded()
  measure.value = text => textWidth(text)
})
const natural = computed(() => fitWidths(props.columns, sample.value, measure.value))
const MARGIN = 34
const fitted = computed(() => {
  const columns = arranged.value.flatMap(look => {
    const column = props.columns.find(one => one.key === look.key)
    if (!column || look.hidden) return []
    const width = look.width ?? natural.value.get(look.key) ?? 120
    const { figure = false, wide = false } = column
    return [{ key: look.key, width, sized: look.width !== null, figure, wide }]
  })
  return fitRoom(columns, room.value - MARGIN - 4)
})
const { headers } = useColumns<Row>({
  columns: computed(() => props.columns),
  looks: arranged,
  fitted,
  sized: (key, width) => emit('looks', changeLook(arranged.value, key, { width })),
})
const byKey = computed(() => new Map(props.columns.map(column => [column.key, column])))
const shown = computed(() =>
  headers.value.flatMap(header => {
    const column = byKey.value.get(header.id)
    return column ? [{ column, header }] : []
  }),
)
const places = computed(
  () =>
    new Map(
      props.columns
        .filter(column => column.figure)
        .map(column => [
          column.key,
          Math.max(
            0,
            decimals(props.totals?.get(column.key) ?? ''),
            ...sample.value.map(row => decimals(column.text(row))),
          ),
        ]),
    ),
)
/** Columns stand side by side; pinned ones know where. */
const layout = computed(() => {
  let start = MARGIN
  const columns = shown.value.map(({ column, header }) => {
    const [left, width] = [start, header.getSize()]
    start += width
    return { column, header, width, left: header.column.getIsPinned() ? left : null }
  })
  return { columns, width: start }
})

const { lines, total, placed, show } = useSeats({
  scroller,
  sight,
  height,
  count: () => props.items.length,
  end: () => emit('end'),
})
watch(
  () => props.items.length,
  length => {
    if (at.value >= length) at.value = length - 1
  },
)

function go(index: number, extend = false): void {
  const to = Math.max(0, Math.min(props.items.length - 1, index))
  if (extend && props.choosing) chooseSpan(at.value, to)
  at.value = to
  show(to)
}
let anchor = -1
function chooseSpan(from: number, to: number): void {
  const chosen = new Set(props.chosen)
  for (let index = Math.min(from, to); index <= Math.max(from, to); index++) {
    const item = props.items[index]
    if (item?.kind === 'row') chosen.add(item.id)
  }
  emit('choose', chosen)
}
function toggle(index: number, span: boolean): void {
  const item = props.items[index]
  if (item?.kind !== 'row') return
  at.value = index
  if (span && anchor >= 0) return chooseSpan(anchor, index)
  anchor = index
  const chosen = new Set(props.chosen)
  if (!chosen.delete(item.id)) chosen.add(item.id)
  emit('choose', chosen)
}
function act(index: number): void {
  const item = props.items[index]
  if (item?.kind === 'row') emit('open', item.row)
  else if (item?.kind === 'group') emit('fold', item.id)
  else item?.act()
}
/** What is chosen, else the line or the cell that one stands on, to the clipboard. */
async function copy(): Promise<void> {
  const chosen = props.items.flatMap(item => (item.kind === 'row' && props.chosen?.has(item.id) ? [item.row] : []))
  const here = props.items[at.value]
  const columns = layout.value.columns.map(one => one.column)
  const one = columns[cell.value]
  const text =
    chosen.length > 0 ? asTable(columns, chosen) : here?.kind === 'row' && one ? one.text(here.row) : undefined
  if (text === undefined) return
  await navigator.clipboard.writeText(text)
  sayInPassing(chosen.length > 0 ? `${chosen.length} rows copied as a table.` : `“${text}” copied.`)
}
const PAGE = 20
function key(event: KeyboardEvent): void {
  if (event.target !== scroller.value) return
  const last = layout.value.columns.length - 1
  const moves: Readonly<Record<string, () => void>> = {
    ArrowDown: () => go(at.value + 1, event.shiftKey),
    ArrowUp: () => go(at.value - 1, event.shiftKey),
    j: () => go(at.value + 1),
    k: () => go(at.value - 1),
    PageDown: () => go(at.value + PAGE, event.shiftKey),
    PageUp: () => go(at.value - PAGE, event.shiftKey),
    Home: () => go(0, event.shiftKey),
    End: () => go(props.items.length - 1, event.shiftKey),
    ArrowRight: () => void (cell.value = Math.min(last, cell.value + 1)),
    ArrowLeft: () => void (cell.value = Math.max(0, cell.value - 1)),
    ' ': () => props.choosing && toggle(at.value, event.shiftKey),
    Enter: () => act(at.value),
  }
  if (event.ctrlKey || event.metaKey) {
    if (event.key === 'c' && getSelection()?.isCollapsed !== false) void copy()
    else if (event.key === 'a' && props.choosing) emit('chooseAll')
    else return
  } else if (event.altKey || !Object.hasOwn(moves, event.key)) return
  else moves[event.key]!()
  event.preventDefault()
  event.stopPropagation()
}
function focused(): void {
  if (at.value < 0 && props.items.length > 0) at.value = 0
}
function move(key_: string, by: number): void {
  emit('looks', moveLook(arranged.value, key_, by))
}
defineExpose({
  focus: () => void nextTick(() => scroller.value?.focus()),
  copy,
})
</script>

<template>
  <div
    ref="scroller"
    class="data-table"
    role="grid"
    tabindex="0"
    :aria-label="name"
    :aria-rowcount="items.length + 1"
    :aria-colcount="layout.columns.length"
    :aria-busy="busy"
    :aria-multiselectable="choosing || undefined"
    :aria-activedescendant="items[at] ? `line-${items[at]!.id}` : undefined"
    data-test="table"
    @keydown="key"
    @focus="focused"
  >
    <TableHead
      :columns="layout.columns"
      :width="layout.width"
      :orders="orders ?? []"
      :choosing="choosing ?? false"
      :all="(chosen?.size ?? 0) > 0 && rows.length > 0 && (chosen?.size ?? 0) >= rows.length"
      :some="(chosen?.size ?? 0) > 0"
      :resizing="layout.columns.some(one => one.header.column.getIsResizing())"
      @order="(key_, beside) => emit('order', key_, beside)"
      @move="move"
      @choose-all="emit('chooseAll')"
    />
    <div role="rowgroup" class="body" :style="{ height: `${total}px`, width: `${layout.width}px` }">
      <TableLine
        v-for="(index, seat) in lines"
        :key="seat"
        :item="items[index]!"
        :columns="layout.columns"
        :places="places"
        :index="index"
        :choosing="choosing ?? false"
        :chosen="chosen?.has(items[index]!.id) ?? false"
        :selected="items[index]!.id === selected"
        :at="index === at"
        :cell="index === at ? cell : -1"
        :style="placed(index)"
        @act="((at = index), act(index))"
        @toggle="toggle(index, $event)"
      />
    </div>
    <TableTotals
      v-if="totals && items.length"
      :columns="layout.columns"
      :width="layout.width"
      :totals="totals"
      :places="places"
    />
  </div>
</template>

<style scoped>
.data-table {
  position: relative;
  flex: 1;
  min-height: 0;
  overflow: auto;
  outline-offset: -2px;
}
.body {
  position: relative;
}
</style>
