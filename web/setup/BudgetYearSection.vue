<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { CHECK_LEVELS, ReadBudgetChecks, SaveBudgetChecks, SaveFirstMonth } from '#contract/setup/budgetChecks.ts'
import { api } from '#web/api.ts'
import { kindTopic } from '#web/news/news.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { day, label, monthText } from '#web/shared/words.ts'

/** Fiscal years with their days, and for each budget what happens where it does not suffice; several are set together. */
type Account = ResponseOf<typeof ReadBudgetChecks>['accounts'][number]
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const { data, reload } = useRead(ReadBudgetChecks, {}, { topics: [kindTopic('house'), kindTopic('budgetAccount')] })
const may = computed(() => session.may('setup.write'))
const text = ref('')
const year = ref<number>()
const chosen = reactive(new Set<string>())
const shownYear = computed(() => year.value ?? data.value?.years.find(one => one.now)?.year)
const nameOf = (one: Account): string => `${one.costCentre} / ${one.account}${one.project ? `, ${one.project}` : ''}`
const shown = computed(() =>
  (data.value?.accounts ?? []).filter(
    one => one.year === shownYear.value && nameOf(one).toLowerCase().includes(text.value.trim().toLowerCase()),
  ),
)
const setting = reactive({ open: false, level: 'check' as Account['level'], tolerance: '0' })
const picked = computed(() => shown.value.filter(one => chosen.has(one.id)))
const all = computed(() => shown.value.length > 0 && picked.value.length === shown.value.length)
function chooseAll(wanted: boolean): void {
  for (const one of shown.value) choose(one, wanted)
}
function choose(one: Account, wanted: boolean): void {
  if (wanted) chosen.add(one.id)
  else chosen.delete(one.id)
}
function set(): void {
  clear()
  const [first] = picked.value
  Object.assign(setting, { open: true, level: first!.level, tolerance: first!.tolerance })
}
async function save(): Promise<void> {
  const seen = picked.value.map(({ id, level, tolerance }) => ({ id, level, tolerance }))
  const to = { level: setting.level, tolerance: setting.tolerance || '0' }
  if (await run(() => api(SaveBudgetChecks, { body: { seen, to } }))) {
    setting.open = false
    chosen.clear()
  }
  await reload()
}
async function begin(month: number): Promise<void> {
  await run(() => api(SaveFirstMonth, { body: { month } }))
  await reload()
}
const month = (number: number): string => monthText(`2001-${String(number).padStart(2, '0')}`).split(' ')[0]!
const YEARS = lineColumns({ year: 'Year', from: 'From', to: 'To', '#accounts': 'Budgets' })
const ACCOUNTS = lineColumns({
  '-choose': 'Choose',
  account: 'Budget',
  level: 'Where it does not suffice',
  '#tolerance': 'Tolerance',
})
</script>

<template>
  <section v-if="data" class="section" data-test="budget-years">
    <h1>Budget years and checks</h1>
    <p class="quiet">Fiscal years are named by the year in which they begin.</p>
    <FormField label="They begin in" class="month"
      ><ElSelect
        :model-value="data.firstMonth"
        :disabled="!may || data.fixed || busy"
        data-test="first-month"
        @update:model-value="begin"
        ><ElOption v-for="one in 12" :key="one" :value="one" :label="month(one)" /></ElSelect
      ><small v-if="data.fixed" class="quiet">There are budgets for years that begin so: that stays.</small></FormField
    >
    <LineTable
      :rows="data.years"
      :columns="YEARS"
      label="Fiscal years"
      :key-of="one => String(one.year)"
      :now="one => one.now"
      ><template #year="{ row: one }">{{ one.year }}<small v-if="one.now">now</small></template>
      <template #from="{ row: one }">{{ day(one.from) }}</template>
      <template #to="{ row: one }">{{ day(one.to) }}</template>
      <template #accounts="{ row: one }">{{ one.accounts }}</template></LineTable
    >
    <h2>What happens where a budget does not suffice</h2>
    <p class="bar">
      <ElSelect :model-value="shownYear" aria-label="Year" style="width: 110px" @update:model-value="year = $event"
        ><ElOption v-for="one in data.years" :key="one.year" :value="one.year" :label="String(one.year)" /></ElSelect
      ><ElInput v-model="text" type="search" placeholder="Search" aria-label="Search budgets" style="width: 240px" />
      <ElButton v-if="may" type="primary" :disabled="picked.length === 0" data-test="set-checks" @click="set"
        >Set {{ picked.length || '' }} together</ElButton
      >
    </p>
    <ReasonList v-if="!setting.open" :reasons="reasons" />
    <LineTable
      v-if="shown.length"
      :rows="shown"
      :columns="ACCOUNTS"
      label="Budgets"
      :key-of="one => one.id"
      :off="one => !one.open"
      ><template #head="{ column }"
        ><ElCheckbox
          v-if="column.said && may"
          :model-value="all"
          aria-label="Choose all"
          data-test="choose-all"
          @change="chooseAll($event as boolean)"
        /><template v-else-if="!column.said">{{ column.label }}</template></template
      >
      <template #choose="{ row: one }"
        ><ElCheckbox
          v-if="may"
          :model-value="chosen.has(one.id)"
          :aria-label="`Choose ${nameOf(one)}`"
          :data-test="`choose-${one.costCentre}-${one.account}`"
          @change="choose(one, $event as boolean)"
      /></template>
      <template #account="{ row: one }">{{ nameOf(one) }}<small v-if="!one.open">closed</small></template>
      <template #level="{ row: one }">{{ label('level', one.level) }}</template>
      <template #tolerance="{ row: one }">{{ one.tolerance }} %</template></LineTable
    >
    <p v-else class="empty">
      No budget of that year{{ text ? ' has these words' : '' }}. Budgets are taken in in Insight.
    </p>
    <ElDialog v-model="setting.open" :title="`${picked.length} budgets`" width="440px">
      <EntryForm :reasons="reasons" :busy="busy" @submit="save">
        <FormField label="Where it does not suffice"
          ><ElSelect v-model="setting.level" data-test="check-level"
            ><ElOption v-for="one in CHECK_LEVELS" :key="one" :value="one" :label="label('level', one)" /></ElSelect
        ></FormField>
        <FormField label="Tolerance, per cent of what is allotted"
          ><NumberField v-model="setting.tolerance" label="Tolerance" data-test="check-tolerance"
        /></FormField>
        <template #acts
          ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-checks">Set them</ElButton
          ><ElButton @click="setting.open = false">Leave it</ElButton></template
        >
      </EntryForm>
    </ElDialog>
  </section>
</template>

<style scoped>
.month {
  max-width: 320px;
}
h2 {
  margin: 22px 0 10px;
}
.bar {
  margin-bottom: 10px;
}
</style>
