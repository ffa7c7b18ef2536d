<script setup lang="ts">
import { ElDatePicker } from 'element-plus'
import { computed } from 'vue'

/** A calendar day; `empty`: what stands there while there is none. Without it there always is one. */
const props = defineProps<{ label: string; empty?: string; mark?: string }>()
const value = defineModel<string | null>({ required: true })
/** The picker says null where it is cleared. */
const picked = computed({
  get: () => value.value ?? '',
  set: (day: string | null) => {
    value.value = day || null
  },
})
</script>

<template>
  <ElDatePicker
    v-model="picked"
    type="date"
    value-format="YYYY-MM-DD"
    format="D MMM YYYY"
    :clearable="props.empty !== undefined"
    :placeholder="empty ?? ''"
    :aria-label="label"
    :data-test="mark"
  />
</template>
