<script setup lang="ts">
import { ElForm } from 'element-plus'
import { computed, provide, ref } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { FAULTS, type FormFaults } from '#web/shared/formFaults.ts'

/**
 * A form: fields with label, help and fault, above them the list of all faults, each leading to its field. Ctrl+Enter sends it. What the
 * server refuses at a field stands beside the field; in the list stands everything.
 */
const props = defineProps<{
  reasons: readonly ReasonJson[]
  columns?: boolean
  busy?: boolean
  /** The number that each line is shown under, where places name lines by something else. */
  lineNumbers?: Readonly<Record<string, number>>
}>()
const emit = defineEmits<{ submit: [] }>()
const places = ref(new Set<string>())
provide<FormFaults>(FAULTS, {
  at: place => props.reasons.filter(reason => reason.place === place),
  add: place => places.value.add(place),
  drop: place => void places.value.delete(place),
})
/** A single fault that stands beside its field says it all. */
const listed = computed(() =>
  props.reasons.length === 1 && places.value.has(props.reasons[0]!.place ?? '') ? [] : props.reasons,
)
</script>

<template>
  <ElForm
    class="entry-form"
    label-position="top"
    :aria-busy="busy"
    @submit.prevent="emit('submit')"
    @keydown.ctrl.enter.stop="emit('submit')"
  >
    <ReasonList :reasons="listed" v-bind="lineNumbers ? { lineNumbers } : {}" />
    <div :class="{ columns }"><slot /></div>
    <p v-if="$slots.acts" class="bar acts"><slot name="acts" /></p>
  </ElForm>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 200px), 1fr));
  column-gap: 16px;
  align-items: start;
}
.columns > :slotted(.whole) {
  grid-column: 1 / -1;
}
.acts {
  margin-top: 14px;
}
/* Groups of settings have no frame, only their headings. */
.entry-form :deep(fieldset) {
  border: 0;
  padding: 0;
  margin: 0;
}
.entry-form :deep(fieldset h3) {
  margin: 16px 0 6px;
}
</style>
