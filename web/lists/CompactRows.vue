<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { ElCheckbox } from 'element-plus'
import { computed, ref, watch } from 'vue'
import type { ListRow } from '#contract/fields.ts'
import { amountText, words } from '#web/shared/words.ts'

/** Rows of a list beside a Sheet: two lines each. */
const props = defineProps<{
  rows: readonly ListRow[]
  selected: string | undefined
  choosing: boolean
  chosen: ReadonlySet<string>
}>()
const emit = defineEmits<{ open: [row: ListRow]; toggle: [id: string]; end: [] }>()
const scroller = ref<HTMLElement>()
const virtual = useVirtualizer(
  computed(() => ({
    count: props.rows.length,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: () => 57,
    overscan: 12,
  })),
)
const visible = computed(() => virtual.value.getVirtualItems().map(item => ({ item, row: props.rows[item.index]! })))
watch(visible, items => {
  if ((items.at(-1)?.item.index ?? 0) >= props.rows.length - 15) emit('end')
})
const MARKS: Readonly<Record<ListRow['tone'], string>> = { stop: '▲', attention: '◆', settled: '✓', plain: '' }
defineExpose({ show: (index: number) => virtual.value.scrollToIndex(index) })
</script>

<template>
  <div ref="scroller" class="rows" tabindex="-1">
    <div class="all" :style="{ height: `${virtual.getTotalSize()}px` }">
      <div
        v-for="{ item, row } in visible"
        :key="row.id"
        class="row"
        :class="{ selected: row.id === selected }"
        :style="{ transform: `translateY(${item.start}px)`, height: `${item.size}px` }"
        role="link"
        tabindex="0"
        :data-test="`row-${row.number}`"
        @click="emit('open', row)"
        @keydown.enter.stop="emit('open', row)"
      >
        <span class="mark" :class="`tone-${row.tone}`"
          ><ElCheckbox
            v-if="choosing"
            :model-value="chosen.has(row.id)"
            :aria-label="`Choose ${row.title}`"
            @click.stop
            @change="emit('toggle', row.id)"
          /><template v-else>{{ MARKS[row.tone] }}</template></span
        >
        <span class="title">{{ row.title }}</span>
        <span class="amount"
          ><template v-if="row.amount"
            ><small>{{ row.currency }}</small
            >{{ amountText(row.amount) }}</template
          ></span
        >
        <span class="sub"
          ><span class="cut">{{ row.subtitle }}</span
          ><em :class="`tone-${row.tone}`">{{ words(row.note) }}</em></span
        >
      </div>
    </div>
  </div>
</template>

<style scoped>
.rows {
  flex: 1;
  overflow: auto;
  min-height: 0;
}
.all {
  position: relative;
}
.row {
  position: absolute;
  left: 0;
  right: 0;
  display: grid;
  grid-template-columns: 18px 1fr auto;
  column-gap: 8px;
  align-content: center;
  padding: 6px 16px 6px 12px;
  border-bottom: 1px solid var(--rule-light);
  cursor: pointer;
}
.row:hover {
  background: #fbf7ee;
}
.row.selected {
  background: var(--sheet);
  box-shadow: inset 3px 0 0 var(--tide);
}
.mark {
  font-size: 11px;
  line-height: 19px;
}
.mark :deep(.el-checkbox) {
  height: 18px;
}
.title {
  font-weight: 600;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.amount {
  text-align: right;
  font-weight: 500;
  white-space: nowrap;
}
.amount small {
  color: var(--ink-quiet);
  font-size: 11px;
  margin-right: 4px;
}
.sub {
  grid-column: 2 / 4;
  color: var(--ink-quiet);
  font-size: 12.2px;
  display: flex;
  justify-content: space-between;
  gap: 10px;
  min-width: 0;
}
.sub em {
  font-style: normal;
  white-space: nowrap;
}
.cut {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
