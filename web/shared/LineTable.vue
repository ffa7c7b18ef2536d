<script setup lang="ts" generic="Row">
import { useResizeObserver } from '@vueuse/core'
import { ref } from 'vue'
import { cellsOf, type LineColumn, type LineSum } from '#web/shared/lineTable.ts'

/**
 * The lines of a document or a record: a heading for each column, a cell for each by a slot of its name, figures at the right, sums below.
 * Wide ones scroll by themselves, also with the keyboard. For lists of thousands there is DataTable.
 */
defineProps<{
  rows: readonly Row[]
  columns: readonly LineColumn[]
  label: string
  /** Without it lines are told apart by their place. */
  keyOf?: (row: Row) => string
  /** Without headings to see; they are still said. */
  bare?: boolean
  off?: (row: Row) => boolean
  /** The one that counts now stands out. */
  now?: (row: Row) => boolean
  mark?: (row: Row) => string
  sums?: readonly LineSum[]
}>()
/** Only what scrolls is a stop of the keyboard. */
const box = ref<HTMLElement>()
const scrolls = ref(false)
useResizeObserver(box, () => {
  scrolls.value = box.value !== undefined && box.value.scrollWidth > box.value.clientWidth
})
/** A cell by the key of its column, or `cell` for all that have none of their own; `head` says headings otherwise than by their words. */
interface Cell {
  readonly row: Row
  readonly index: number
  readonly column: LineColumn
}
defineSlots<Record<string, (props: Cell) => unknown> & { head?: (props: { column: LineColumn }) => unknown }>()
const looks = ({ num, quiet, wide }: LineColumn): Record<string, boolean | undefined> => ({
  num,
  quiet,
  'not-phone': wide,
})
</script>

<template>
  <div
    ref="box"
    class="line-table"
    :role="scrolls ? 'region' : undefined"
    :aria-label="scrolls ? label : undefined"
    :tabindex="scrolls ? 0 : undefined"
  >
    <table class="lines" :aria-label="label">
      <thead :class="{ 'visually-hidden': bare }">
        <tr>
          <th
            v-for="column in columns"
            :key="column.key"
            :class="{ num: column.num, 'not-phone': column.wide }"
            scope="col"
          >
            <slot v-if="$slots.head" name="head" :column="column" /><span
              v-else
              :class="{ 'visually-hidden': column.said }"
              >{{ column.label }}</span
            >
          </th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(row, index) in rows"
          :key="keyOf?.(row) ?? index"
          :class="{ off: off?.(row), now: now?.(row) }"
          :data-test="mark?.(row)"
        >
          <component
            :is="column.names ? 'th' : 'td'"
            v-for="column in columns"
            :key="column.key"
            :class="looks(column)"
            :scope="column.names ? 'row' : undefined"
          >
            <slot :name="column.key" :row="row" :index="index" :column="column"
              ><slot name="cell" :row="row" :index="index" :column="column"
            /></slot>
          </component>
        </tr>
      </tbody>
      <tfoot v-if="sums?.length">
        <tr v-for="sum in sums" :key="sum.key" :class="{ total: sum.total }" :data-test="sum.mark">
          <td
            v-for="{ column, span } in cellsOf(sum, columns)"
            :key="column.key"
            :class="looks(column)"
            :colspan="span"
          >
            {{ sum.cells[column.key] }}
          </td>
        </tr>
      </tfoot>
    </table>
  </div>
</template>

<style scoped>
.line-table {
  position: relative;
  overflow-x: auto;
}
.off td {
  color: var(--ink-quiet);
}
.now td {
  background: #fbf7ee;
}
</style>
