<script setup lang="ts" generic="Row extends object">
import { onPoint, type TableColumn } from '#web/shared/table/table.ts'

/** What all rows come to, under their columns and on the same point; it stays in sight. */
const props = defineProps<{
  columns: readonly { readonly column: TableColumn<Row>; readonly width: number; readonly left: number | null }[]
  width: number
  totals: ReadonlyMap<string, string>
  places: ReadonlyMap<string, number>
}>()
const total = (key: string) => onPoint(props.totals.get(key) ?? '', props.places.get(key) ?? 0)
</script>

<template>
  <div class="totals" role="row" :style="{ width: `${width}px` }" data-test="totals">
    <span class="margin" />
    <span
      v-for="(one, index) in columns"
      :key="one.column.key"
      role="gridcell"
      :class="{ num: one.column.figure, pinned: one.left !== null }"
      :style="{ width: `${one.width}px`, left: one.left === null ? undefined : `${one.left}px` }"
      ><template v-if="totals.has(one.column.key)"
        >{{ total(one.column.key).shown
        }}<span class="after" aria-hidden="true">{{ total(one.column.key).after }}</span></template
      ><template v-else-if="index === 0">{{ totals.get('') }}</template></span
    >
  </div>
</template>

<style scoped>
.totals {
  position: sticky;
  bottom: 0;
  z-index: 2;
  display: flex;
  min-width: 100%;
  height: 32px;
  align-items: center;
  background: var(--page);
  border-top: 1px solid var(--ink);
  font-weight: 600;
}
.totals > span {
  flex: none;
  padding: 0 10px 0 0;
  white-space: nowrap;
}
.totals .margin {
  width: 34px;
}
.totals .after {
  visibility: hidden;
}
.totals .pinned {
  position: sticky;
  z-index: 1;
  background: var(--page);
}
</style>
