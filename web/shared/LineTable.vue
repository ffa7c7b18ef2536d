<script setup lang="ts" generic="Row">
import { useResizeObserver } from '@vueuse/core'
import { ref } from 'vue'
import type { LineColumn } from '#web/shared/lineTable.ts'

/**
 * The lines of a document or a record: a heading for each column, a cell for each by a slot of its name, figures at the right. Wide ones scroll
 * by themselves, also with the keyboard. For lists of thousands there is DataTable.
 */
defineProps<{
  rows: readonly Row[]
  columns: readonly LineColumn[]
  label: string
  keyOf: (row: Row) => string
  /** Without headings to see; they are still said. */
  bare?: boolean
  off?: (row: Row) => boolean
  mark?: (row: Row) => string
}>()
/** Only what scrolls is a stop of the keyboard. */
const box = ref<HTMLElement>()
const scrolls = ref(false)
useResizeObserver(box, () => {
  scrolls.value = box.value !== undefined && box.value.scrollWidth > box.value.clientWidth
})
defineSlots<{ [name: string]: ((props: { row: Row; index: number }) => unknown) | undefined; foot?: () => unknown }>()
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
          <th v-for="column in columns" :key="column.key" :class="{ num: column.num }" scope="col">
            {{ column.label }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, index) in rows" :key="keyOf(row)" :class="{ off: off?.(row) }" :data-test="mark?.(row)">
          <td v-for="column in columns" :key="column.key" :class="{ num: column.num, quiet: column.quiet }">
            <slot :name="column.key" :row="row" :index="index" />
          </td>
        </tr>
      </tbody>
      <tfoot v-if="$slots.foot">
        <slot name="foot" />
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
</style>
