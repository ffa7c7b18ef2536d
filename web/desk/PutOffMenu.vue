<script setup lang="ts">
import { ElButton, ElDatePicker } from 'element-plus'
import { computed } from 'vue'
import { addDays } from '#core/calendar/days.ts'
import { LONGEST } from '#core/desk/putOff.ts'
import { useSession } from '#web/people/session.ts'
import { day } from '#web/shared/words.ts'

/** Until when something is put off: a day that one means often, or any other. */
const emit = defineEmits<{ choose: [until: string | null] }>()
const session = useSession()
const monday = computed(() => {
  const weekday = new Date(`${session.today}T00:00:00Z`).getUTCDay()
  return addDays(session.today, (8 - weekday) % 7 || 7)
})
const choices = computed(() => [
  ['tomorrow', addDays(session.today, 1)],
  ['next Monday', monday.value],
  ['in two weeks', addDays(session.today, 14)],
])
const two = (part: number): string => String(part).padStart(2, '0')
const outside = (date: Date): boolean => {
  const text = `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`
  return text <= session.today || text > addDays(session.today, LONGEST)
}
</script>

<template>
  <p class="quiet">Off your Desk until</p>
  <ul>
    <li v-for="[name, until] in choices" :key="name">
      <ElButton link :data-test="`put-off-${name}`" @click="emit('choose', until!)"
        >{{ name }}, {{ day(until) }}</ElButton
      >
    </li>
  </ul>
  <ElDatePicker
    type="date"
    value-format="YYYY-MM-DD"
    placeholder="another day"
    aria-label="Another day"
    :disabled-date="outside"
    :teleported="false"
    @update:model-value="emit('choose', $event as string | null)"
  />
</template>

<style scoped>
ul {
  list-style: none;
  margin: 4px 0 8px;
  padding: 0;
}
li {
  padding: 3px 0;
}
:deep(.el-date-editor) {
  width: 100%;
}
</style>
