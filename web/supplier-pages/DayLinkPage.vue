<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadDayLink, SayDays } from '#contract/order/following.ts'
import { api } from '#web/api.ts'
import DoorFrame from '#web/frame/DoorFrame.vue'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { t } from '#web/shared/language.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { day, quantityText, unit } from '#web/shared/words.ts'

/** Where the link of a reminder leads: what has not come yet, and on which day it comes. Looking says nothing; the link works once. */
const route = useRoute()
const token = String(route.params.token)
const { busy, reasons, run } = useAction()
const link = shallowRef<ResponseOf<typeof ReadDayLink>>()
const days = ref<Record<string, string | null>>({})
const note = ref('')
const done = ref(false)
onMounted(async () => {
  link.value = await run(() => api(ReadDayLink, { params: { token } }))
  const today = new Date().toISOString().slice(0, 10)
  for (const line of link.value?.lines ?? [])
    days.value[line.id] = line.promised && line.promised >= today ? line.promised : null
})
async function go(): Promise<void> {
  const said = Object.entries(days.value).flatMap(([lineId, date]) => (date ? [{ lineId, date }] : []))
  done.value =
    (await run(() => api(SayDays, { params: { token }, body: { days: said, note: note.value } }))) !== undefined
}
</script>

<template>
  <DoorFrame :title="link?.house || 'Ivory Order'">
    <h1 v-if="done && link" data-test="day-said">{{ t('Thank you. The buyer knows.') }}</h1>
    <template v-else-if="link && link.reasons.length === 0"
      ><p class="quiet">{{ t('Order {number}', { number: link.number }) }}</p>
      <h1>{{ link.title }}</h1>
      <p>{{ t('When does it come?') }}</p>
      <EntryForm :reasons="reasons" :busy="busy" @submit="go">
        <FormField
          v-for="line in link.lines"
          :key="line.id"
          :label="`${line.what}, ${quantityText(line.quantity)} ${unit(line.unit)}`"
          :data-test="`say-${line.position}`"
          :help="line.needBy ? t('needed by {day}', { day: day(line.needBy) }) : ''"
          ><DayField v-model="days[line.id]!" :label="line.what" empty=""
        /></FormField>
        <FormField :label="t('A word to the buyer')"
          ><ElInput v-model="note" type="textarea" :rows="2" maxlength="1000" data-test="day-note"
        /></FormField>
        <template #acts
          ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="say-days">{{
            t('Say it')
          }}</ElButton></template
        >
      </EntryForm></template
    >
    <template v-else
      ><p v-if="link" class="quiet">{{ t('Order {number}', { number: link.number }) }}</p>
      <ReasonList :reasons="link?.reasons ?? reasons"
    /></template>
  </DoorFrame>
</template>
