<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref, watch } from 'vue'
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
const openFrom = ref<string | null>(null)
watch(data, now => {
  if (now) openFrom.value = now.openFrom
})
async function save(): Promise<void> {
  if (await run(() => api(SaveReceivingSettings, { body: { openFrom: openFrom.value } }))) await reload()
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
        <DayField v-model="openFrom" label="Nothing is received before" empty="no period is closed" mark="open-from" />
      </FormField>
      <template v-if="session.may('budget.write')" #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-receiving"
          >Keep it</ElButton
        ></template
      >
    </EntryForm>
  </section>
</template>
