<script setup lang="ts">
import { ElButton, ElCheckbox, ElDatePicker, ElDialog, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import * as house from '#contract/setup/house.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { FetchRates, type RATE_FAULTS, ReadRateService, SaveRateService } from '#contract/setup/rateService.ts'
import { ExportRates, ImportRates } from '#contract/setup/registers.ts'
import { currencies } from '#core/money/currency.ts'
import { api, pathOf } from '#web/api.ts'
import { kindTopic } from '#web/news/news.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import ImportDialog from '#web/shared/ImportDialog.vue'
import { sayInPassing } from '#web/shared/message.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { day, since } from '#web/shared/words.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** What one unit of another currency costs, from a day on. A rate that was entered stays: documents were made at it. */
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const topics = [kindTopic('house')]
const { data: all, reload } = useRead(house.ReadOrganisation, {}, { topics })
const { data: service, reload: again } = useRead(ReadRateService, {}, { topics })
const form = reactive({ open: false, currency: 'USD', validFrom: session.today, rate: '' })
const importing = ref(false)
const others = computed(() => currencies.filter(one => one !== all.value?.base))
function edit(): void {
  clear()
  Object.assign(form, { open: true, validFrom: session.today, rate: '' })
}
async function save(): Promise<void> {
  const { currency, validFrom, rate } = form
  if (!(await run(() => api(house.SaveRate, { body: { currency, validFrom, rate } })))) return
  form.open = false
  await reload()
}
async function fetchNow(): Promise<void> {
  if (await run(() => api(FetchRates, {}))) sayInPassing('They are being fetched.')
}
async function daily(wanted: boolean): Promise<void> {
  if (await run(() => api(SaveRateService, { body: { daily: wanted } }))) await again()
}
const FAULTS: Readonly<Record<(typeof RATE_FAULTS)[number], string>> = {
  notConnected: 'no service is named where this program is run (RATES_URL)',
  unreachable: 'the service could not be reached',
  unreadable: 'what came holds no rates',
}
const outcome = ({ at, taken, fault }: NonNullable<ResponseOf<typeof ReadRateService>['last']>): string =>
  `Last fetched ${since(at)}: ${fault ? FAULTS[fault] : taken === 0 ? 'nothing new' : `${taken} new`}.`
</script>

<template>
  <section v-if="all" class="section">
    <h1>Currencies and rates</h1>
    <p class="quiet">
      Money is counted in {{ all.base }}. A rate holds from its day until the next one of its currency.
    </p>
    <p class="bar">
      <ElButton v-if="session.may('setup.write')" type="primary" data-test="new-rate" @click="edit">Add a rate</ElButton
      ><ElButton v-if="session.may('setup.write')" link data-test="import-rates" @click="importing = true"
        >Take in a file</ElButton
      ><a :href="pathOf(ExportRates)" download>CSV</a>
    </p>
    <p v-if="service" class="bar service">
      <template v-if="session.may('setup.write')"
        ><ElButton link :disabled="busy" data-test="fetch-rates" @click="fetchNow"
          >Fetch the day’s reference rates</ElButton
        ><ElCheckbox
          :model-value="service.daily"
          :disabled="busy"
          data-test="rates-daily"
          @update:model-value="daily($event === true)"
          >on every working day</ElCheckbox
        ></template
      ><span v-if="service.last" :class="service.last.fault ? 'tone-attention' : 'quiet'" data-test="rates-last">{{
        outcome(service.last)
      }}</span>
    </p>
    <p v-if="all.rates.length === 0" class="empty">No rate is entered: everything has to be in {{ all.base }}.</p>
    <LineTable
      v-else
      data-test="rates"
      :rows="all.rates"
      :columns="lineColumns({ currency: 'Currency', '#forOne': `${all.base} for one`, from: 'From' })"
      label="Rates"
      :key-of="one => one.currency + one.validFrom"
      ><template #currency="{ row: one }">{{ one.currency }}</template>
      <template #forOne="{ row: one }">{{ one.rate }}</template>
      <template #from="{ row: one }">{{ day(one.validFrom) }}</template></LineTable
    >
    <ElDialog v-model="form.open" title="Exchange rate" width="480px">
      <EntryForm :reasons="reasons" :busy="busy" columns @submit="save">
        <FormField label="Currency" place="currency"
          ><ElSelect v-model="form.currency" filterable default-first-option
            ><ElOption v-for="one in others" :key="one" :value="one" /></ElSelect></FormField
        ><FormField label="From" place="validFrom"
          ><ElDatePicker v-model="form.validFrom" type="date" value-format="YYYY-MM-DD" :clearable="false" /></FormField
        ><FormField :label="`${all.base} for one`" place="rate"
          ><NumberField v-model="form.rate" label="Rate" data-test="rate"
        /></FormField>
        <template #acts
          ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-organisation"
            >Keep it</ElButton
          ><ElButton @click="form.open = false">Leave it</ElButton></template
        >
      </EntryForm>
    </ElDialog>
    <ImportDialog
      v-if="importing"
      title="Take in rates"
      what="a CSV file with the columns currency, valid_from and rate, or an XML file of euro reference rates"
      accept=".csv,.xml,text/csv,application/xml"
      :send="(fileId, dryRun) => api(ImportRates, { body: { fileId, dryRun } })"
      @close="((importing = false), reload())"
    />
  </section>
</template>

<style scoped>
.bar {
  margin: 12px 0;
}
table {
  max-width: 420px;
}
</style>
