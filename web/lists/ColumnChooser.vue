<script setup lang="ts">
import { Columns3, Pin } from '@lucide/vue'
import { ElButton, ElCheckbox } from 'element-plus'
import { computed } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import type { ListRow } from '#contract/fields.ts'
import { arrange, changeLook, type ColumnLook, moveLook } from '#core/lists/looks.ts'
import MenuPopover from '#web/shared/MenuPopover.vue'
import ToolButton from '#web/shared/ToolButton.vue'
import type { TableColumn } from '#web/shared/table/table.ts'

/** The columns of a list: which are seen, in which order, which stay in sight; by dragging or with the arrow keys. */
const props = defineProps<{ columns: readonly TableColumn<ListRow>[]; looks: readonly ColumnLook[] }>()
const emit = defineEmits<{ looks: [looks: ColumnLook[]] }>()
const arranged = computed({
  get: () =>
    arrange(
      props.looks,
      props.columns.map(column => column.key),
    ).columns,
  set: looks => emit('looks', looks),
})
const names = computed(() => new Map(props.columns.map(column => [column.key, column.label])))
function key(event: KeyboardEvent, column: string): void {
  const by = { ArrowUp: -1, ArrowDown: 1 }[event.key]
  if (by === undefined || !event.altKey) return
  event.preventDefault()
  emit('looks', moveLook(arranged.value, column, by))
}
</script>

<template>
  <MenuPopover :width="290" placement="bottom-end">
    <template #button><ToolButton :icon="Columns3" name="Columns" data-test="columns" /></template>
    <p class="quiet">Drag to move, or Alt with ↑ and ↓.</p>
    <VueDraggable v-model="arranged" :animation="120" handle=".name" tag="ul" class="columns">
      <li v-for="look in arranged" :key="look.key" @keydown="key($event, look.key)">
        <ElCheckbox
          :model-value="!look.hidden"
          :aria-label="names.get(look.key)"
          :data-test="`column-${look.key}`"
          @change="emit('looks', changeLook(arranged, look.key, { hidden: !look.hidden }))"
        /><span class="name">{{ names.get(look.key) }}</span
        ><ElButton
          link
          class="pin"
          :class="{ on: look.pinned }"
          :aria-pressed="look.pinned"
          :title="look.pinned ? 'Lets it scroll with the others' : 'Keeps it in sight'"
          :data-test="`pin-${look.key}`"
          @click="emit('looks', changeLook(arranged, look.key, { pinned: !look.pinned }))"
          ><Pin :size="14" aria-hidden="true" /><span class="visually-hidden"
            >{{ names.get(look.key) }} {{ look.pinned ? 'stays in sight' : 'scrolls' }}</span
          ></ElButton
        ><ElButton
          v-if="look.width !== null"
          link
          size="small"
          @click="emit('looks', changeLook(arranged, look.key, { width: null }))"
          >fit</ElButton
        >
      </li>
    </VueDraggable>
    <ElButton link data-test="columns-anew" @click="emit('looks', [])">as they come</ElButton>
  </MenuPopover>
</template>

<style scoped>
.columns {
  list-style: none;
  margin: 4px 0 8px;
  padding: 0;
  max-height: 50vh;
  overflow: auto;
}
.columns li {
  display: flex;
  align-items: center;
  gap: 8px;
  height: 28px;
}
.name {
  flex: 1;
  cursor: grab;
}
.pin {
  color: var(--rule);
  padding: 4px;
}
.pin.on {
  color: var(--tide);
}
</style>
