<script setup lang="ts" generic="Row extends object">
import { ElCheckbox } from 'element-plus'
import { onPoint, type TableColumn, type TableItem } from '#web/shared/table/table.ts'

/** One line of a table: a row, the head of a group with what it comes to, or a remark. */
const props = defineProps<{
  item: TableItem<Row>
  columns: readonly { column: TableColumn<Row>; width: number; left: number | null }[]
  places: ReadonlyMap<string, number>
  index: number
  choosing: boolean
  chosen: boolean
  selected: boolean
  /** Whether the keyboard stands here, and in which column. */
  at: boolean
  cell: number
}>()
const emit = defineEmits<{ act: []; toggle: [span: boolean] }>()
const style = (one: { width: number; left: number | null }) => ({
  width: `${one.width}px`,
  left: one.left === null ? undefined : `${one.left}px`,
})
const sum = (key: string) =>
  onPoint((props.item.kind === 'group' && props.item.sums.get(key)) || '', props.places.get(key) ?? 0)
const figure = (column: TableColumn<Row>, row: Row) => onPoint(column.text(row), props.places.get(column.key) ?? 0)
</script>

<template>
  <div
    :id="`line-${item.id}`"
    role="row"
    class="line"
    :data-test="item.kind === 'row' ? `row-${item.name}` : item.kind"
    :class="[item.kind, { at, selected, chosen }]"
    :aria-rowindex="index + 2"
    :aria-selected="item.kind === 'row' ? chosen || selected : undefined"
    :aria-expanded="item.kind === 'group' ? item.open : undefined"
    @click="emit('act')"
  >
    <span
      class="margin"
      role="gridcell"
      @click.stop="item.kind === 'row' && choosing ? emit('toggle', ($event as MouseEvent).shiftKey) : emit('act')"
      ><ElCheckbox
        v-if="item.kind === 'row' && choosing"
        :model-value="chosen"
        tabindex="-1"
        class="box"
        aria-label="Choose this row" /><template v-else-if="item.kind === 'group'">{{ item.open ? '▾' : '▸' }}</template
      ><slot v-else name="mark"
    /></span>
    <template v-if="item.kind === 'row'"
      ><span
        v-for="(one, place) in columns"
        :key="one.column.key"
        role="gridcell"
        class="cell"
        :class="[
          one.column.tone?.(item.row),
          { num: one.column.figure, pinned: one.left !== null, strong: one.column.strong, here: place === cell },
        ]"
        :style="style(one)"
        :title="one.column.figure ? undefined : one.column.text(item.row)"
        ><template v-if="one.column.figure"
          ><small v-if="one.column.unit" class="unit">{{ one.column.unit(item.row) }}</small
          >{{ figure(one.column, item.row).shown
          }}<span class="after" aria-hidden="true">{{ figure(one.column, item.row).after }}</span></template
        ><template v-else>{{ one.column.text(item.row) }}</template></span
      ></template
    >
    <template v-else-if="item.kind === 'group'"
      ><span
        v-for="(one, place) in columns"
        :key="one.column.key"
        role="gridcell"
        class="cell"
        :class="{ num: one.column.figure, pinned: one.left !== null, name: place === 0 }"
        :style="style(one)"
        ><span v-if="place === 0" class="said" :style="{ paddingLeft: `${item.depth * 16}px` }"
          >{{ item.label }} <span class="quiet">{{ item.count }}</span></span
        ><template v-else-if="item.sums.has(one.column.key)"
          >{{ sum(one.column.key).shown
          }}<span class="after" aria-hidden="true">{{ sum(one.column.key).after }}</span></template
        ></span
      ></template
    >
    <span v-else role="gridcell" class="cell note">{{ item.text }}</span>
  </div>
</template>

<style scoped>
.line {
  position: absolute;
  left: 0;
  min-width: 100%;
  display: flex;
  align-items: center;
  border-bottom: 1px solid var(--rule-light);
  cursor: pointer;
  background: var(--page);
  contain: layout style;
}
.line:hover,
.line:hover .pinned {
  background: #fbf7ee;
}
.line.chosen,
.line.chosen .pinned {
  background: #fbf7ee;
}
.line.selected,
.line.selected .pinned {
  background: var(--sheet);
}
.line.selected,
.line.at {
  box-shadow: inset 3px 0 0 var(--tide);
}
.group {
  font-weight: 600;
}
.margin {
  width: 34px;
  flex: none;
  padding-left: 12px;
  color: var(--ink-quiet);
}
.box {
  pointer-events: none;
  height: 18px;
}
.cell {
  flex: none;
  padding-right: 10px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.cell.num {
  font-weight: 500;
}
.pinned {
  position: sticky;
  z-index: 1;
  background: var(--page);
}
.name {
  overflow: visible;
}
.strong {
  font-weight: 600;
}
small.unit {
  margin-right: 5px;
}
.after {
  visibility: hidden;
}
.note {
  color: var(--tide);
}
.line.at .here {
  box-shadow: inset 0 -2px 0 var(--tide-mid);
}
</style>
