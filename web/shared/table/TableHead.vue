<script setup lang="ts" generic="Row extends object">
import { ElButton, ElCheckbox } from 'element-plus'
import { ref } from 'vue'
import type { TableColumn } from '#web/shared/table/table.ts'

/**
 * The heads of a table's columns: ordered by a click, wider by their edge, elsewhere by dragging, with the arrow
 * keys when one stands on them.
 */
interface Resized {
  getResizeHandler: () => (event: unknown) => void
  column: { resetSize: () => void; getIsResizing: () => boolean }
}
const props = defineProps<{
  columns: readonly { column: TableColumn<Row>; header: Resized; width: number; left: number | null }[]
  width: number
  orders: readonly { column: string; descending: boolean }[]
  choosing: boolean
  all: boolean
  some: boolean
  resizing: boolean
}>()
const emit = defineEmits<{ order: [key: string, beside: boolean]; move: [key: string, by: number]; chooseAll: [] }>()
const dragged = ref('')
const over = ref('')

const orderOf = (key: string) => props.orders.find(one => one.column === key)
const sorted = (key: string): 'ascending' | 'descending' | 'none' => {
  const order = orderOf(key)
  return order ? (order.descending ? 'descending' : 'ascending') : 'none'
}
const MARKS = { ascending: '↑', descending: '↓', none: '' } as const
function drop(key: string): void {
  const place = (one: string): number => props.columns.findIndex(({ column }) => column.key === one)
  if (dragged.value && dragged.value !== key) emit('move', dragged.value, place(key) - place(dragged.value))
  dragged.value = over.value = ''
}
function key(event: KeyboardEvent, column: string): void {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
  if (by === undefined || !event.altKey) return
  event.preventDefault()
  emit('move', column, by)
}
</script>

<template>
  <div role="rowgroup" class="head" :style="{ width: `${width}px` }">
    <div role="row" class="row">
      <span class="margin" role="columnheader" :aria-label="choosing ? 'Chosen' : 'Mark'"
        ><ElCheckbox
          v-if="choosing"
          :model-value="all"
          :indeterminate="some && !all"
          aria-label="Choose all that match"
          data-test="choose-all"
          @change="emit('chooseAll')"
      /></span>
      <span
        v-for="{ column, header, width: own, left } in columns"
        :key="column.key"
        role="columnheader"
        class="cell"
        :class="{ num: column.figure, pinned: left !== null, over: over === column.key }"
        :style="{ width: `${own}px`, left: left === null ? undefined : `${left}px` }"
        :aria-sort="column.ordered ? sorted(column.key) : undefined"
        :draggable="!resizing"
        @dragstart="dragged = column.key"
        @dragover.prevent="over = column.key"
        @dragend="dragged = over = ''"
        @drop.prevent="drop(column.key)"
      >
        <ElButton
          v-if="column.ordered"
          link
          class="order"
          :title="`Order by ${column.label}; with Shift beside what it is ordered by. Alt with an arrow moves the column.`"
          :data-test="`order-${column.key}`"
          @click="emit('order', column.key, ($event as MouseEvent).shiftKey)"
          @keydown="key($event as KeyboardEvent, column.key)"
          >{{ column.label
          }}<span v-if="sorted(column.key) !== 'none'"> {{ MARKS[sorted(column.key)] }}</span></ElButton
        ><span v-else class="name">{{ column.label }}</span>
        <span
          class="edge"
          aria-hidden="true"
          :class="{ held: header.column.getIsResizing() }"
          @mousedown.stop.prevent="header.getResizeHandler()($event)"
          @touchstart.stop="header.getResizeHandler()($event)"
          @dblclick="header.column.resetSize()"
        />
      </span>
    </div>
  </div>
</template>

<style scoped>
.head {
  position: sticky;
  top: 0;
  z-index: 3;
  min-width: 100%;
  background: var(--page);
  border-bottom: 1px solid var(--ink);
}
.row {
  display: flex;
  height: 30px;
  align-items: center;
}
.margin {
  width: 34px;
  flex: none;
  padding-left: 12px;
}
.cell {
  position: relative;
  flex: none;
  padding-right: 10px;
  font-size: 11.5px;
  color: var(--ink-quiet);
  white-space: nowrap;
  overflow: hidden;
}
.pinned {
  position: sticky;
  z-index: 1;
  background: var(--page);
}
.over {
  box-shadow: inset 2px 0 0 var(--tide);
}
.order {
  padding: 0;
  height: 22px;
  font: inherit;
  color: inherit;
}
.edge {
  position: absolute;
  right: 2px;
  top: 2px;
  bottom: 2px;
  width: 7px;
  cursor: col-resize;
  border-right: 1px solid transparent;
}
.cell:hover .edge,
.edge.held {
  border-color: var(--rule);
}
</style>
