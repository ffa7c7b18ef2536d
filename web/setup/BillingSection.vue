<script setup lang="ts">
import { ElButton, ElCheckbox, ElCheckboxGroup, ElInputNumber } from 'element-plus'
import { reactive, watch } from 'vue'
import { ReadBillingSettings, SaveBillingSettings } from '#contract/bill/settings.ts'
import type { RuleSet } from '#core/bill/en16931.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** What invoices post themselves, and which rules e-invoices keep: whoever keeps the budgets says so. */
const session = useSession()
const { data, reload } = useRead(ReadBillingSettings)
const { busy, reasons, run } = useAction()
const form = reactive({ postUntouched: false, ruleSets: [] as RuleSet[], remindHours: 16, escalateHours: 40 })
const PATIENCE = [
  {
    field: 'remindHours',
    label: 'Remind of a difference after',
    help: 'Those who can clear it are reminded, again and again.',
  },
  {
    field: 'escalateHours',
    label: 'Tell those above after',
    help: 'Whoever stands above them may clear it then, too.',
  },
] as const
watch(data, now => {
  if (now) Object.assign(form, now)
})
async function save(): Promise<void> {
  if (await run(() => api(SaveBillingSettings, { body: { ...form } }))) await reload()
}
</script>

<template>
  <section class="section" data-test="billing-settings">
    <h1>Invoices</h1>
    <p>
      How far an invoice may differ is said under Tolerances. Every e-invoice is held against the European standard (EN
      16931).
    </p>
    <EntryForm :reasons="reasons" :busy="busy" @submit="save">
      <FormField label="Posting" help="Nobody had to accept a difference. All others wait for a person.">
        <ElCheckbox v-model="form.postUntouched" data-test="post-untouched"
          >An invoice whose order, receipt and tax agree posts itself</ElCheckbox
        >
      </FormField>
      <FormField label="Rules beside the standard’s own" help="An e-invoice that breaks one of them is refused.">
        <ElCheckboxGroup v-model="form.ruleSets" class="sets"
          ><ElCheckbox value="german" data-test="rules-german">German authorities (XRechnung)</ElCheckbox
          ><ElCheckbox value="peppol">Peppol network (BIS Billing 3)</ElCheckbox></ElCheckboxGroup
        >
      </FormField>
      <FormField
        v-for="one in PATIENCE"
        :key="one.field"
        :label="one.label"
        :place="one.field"
        :help="`${one.help} Working hours; 0: never.`"
        ><ElInputNumber v-model="form[one.field]" :min="0" :max="1000" :aria-label="one.label" :data-test="one.field"
      /></FormField>
      <template v-if="session.may('budget.write')" #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-billing"
          >Keep it</ElButton
        ></template
      >
    </EntryForm>
  </section>
</template>

<style scoped>
.sets {
  width: 100%;
}
</style>
