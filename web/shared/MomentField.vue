<script setup lang="ts">
import '#web/theme/later.scss'
import { ElTimePicker } from 'element-plus'
import { computed } from 'vue'
import { instantAt } from '#core/calendar/hours.ts'
import DayField from '#web/shared/DayField.vue'

/** A day and a time of day in a time zone, kept as one instant. */
const props = defineProps<{ label: string; zone: string; mark?: string }>()
const value = defineModel<string | null>({ required: true })
const USUAL = '17:00'

const parts = computed(() => {
  if (value.value === null) return { day: null, time: USUAL }
  const text = new Intl.DateTimeFormat('sv-SE', {
    timeZone: props.zone,
    dateStyle: 'short',
    timeStyle: 'short',
  }).format(new Date(value.value))
  return { day: text.slice(0, 10), time: text.slice(11, 16) }
})
const put = (day: string | null, time: string): void => {
  value.value = day === null ? null : new Date(instantAt(day, time, props.zone)).toISOString()
}
const day = computed({ get: () => parts.value.day, set: to => put(to, parts.value.time) })
/** The picker says null where it is cleared. */
const time = computed({ get: () => parts.value.time, set: (to: string | null) => put(parts.value.day, to ?? USUAL) })
</script>

<template>
  <span class="bar moment"
    ><DayField
      v-model="day"
      :label="`${label}, day`"
      empty="no day yet"
      :mark="mark ? `${mark}-day` : undefined"
    /><ElTimePicker
      v-model="time"
      format="HH:mm"
      value-format="HH:mm"
      :aria-label="`${label}, time`"
      :clearable="false"
      :data-test="mark ? `${mark}-time` : undefined"
      class="time"
    /><span class="quiet">{{ zone }}</span></span
  >
</template>

<style scoped>
.moment {
  gap: 8px;
  align-items: center;
}
.moment :deep(.el-date-editor) {
  width: 142px;
}
.moment .time,
.moment :deep(.el-date-editor.time) {
  width: 96px;
}
</style>
