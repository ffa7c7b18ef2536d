<script setup lang="ts">
import { ElButton, ElCheckbox, ElInputNumber } from 'element-plus'
import { reactive, watch } from 'vue'
import { ReadReceivingSettings, SaveReceivingSettings } from '#contract/receive/settings.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** The period in which goods are received: whoever keeps the budgets closes and opens it. */
const session = useSession()
const { data, reload } = useRead(ReadReceivingSettings)
const { busy, reasons, run } = useAction()
const form = reactive({ openFrom: null as string | null, asksRequesters: false, remindDays: 0, silentDays: 0 })
watch(data, now => {
  if (now) Object.assign(form, now)
})
async function save(): Promise<void> {
  if (await run(() => api(SaveReceivingSettings, { body: { ...form } }))) await reload()
}
</script>

<template>
  <section class="section" data-test="receiving-settings">
    <h1>Receiving</h1>
    <p>
      What goods become, what is asked of them and how they are inspected is said by category, under Categories, and by
      item, in the catalogue.
    </p>
    <EntryForm :reasons="reasons" :busy="busy" @submit="save">
      <FormField label="Nothing is received before" help="The first day of the period that is open">
        <DayField
          v-model="form.openFrom"
          label="Nothing is received before"
          empty="no period is closed"
          mark="open-from"
        />
      </FormField>
      <FormField label="Requesters" help="They are told when the goods are in, and answer from the mail or the delivery"
        ><ElCheckbox v-model="form.asksRequesters" data-test="asks-requesters"
          >Whoever asked for goods says whether they have them</ElCheckbox
        ></FormField
      >
      <template v-if="form.asksRequesters"
        ><FormField label="Reminded after days without a word" help="0: never"
          ><ElInputNumber v-model="form.remindDays" :min="0" :max="365" :controls="false" /></FormField
        ><FormField label="Buyer told after days without a word" help="0: never"
          ><ElInputNumber v-model="form.silentDays" :min="0" :max="365" :controls="false" /></FormField
      ></template>
      <template v-if="session.may('budget.write')" #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-receiving"
          >Keep it</ElButton
        ></template
      >
    </EntryForm>
  </section>
</template>
