<script setup lang="ts">
import { ElButton, ElCheckbox, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, reactive, ref, shallowRef, watch } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ChangeYear, PreviewYearChange } from '#contract/budgets/endpoints.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { sumTexts } from '#core/money/text.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** The change of the fiscal year, cost centre by cost centre: seen before it is done. */
const session = useSession()
const { busy, reasons, run } = useAction()
const year = Number(session.today.slice(0, 4))
const form = reactive({ fromYear: year - 1, costCentre: '', carryBudget: true, carryRest: false })
const centres = shallowRef<readonly { code: string; name: string }[]>([])
const preview = shallowRef<ResponseOf<typeof PreviewYearChange>>()
const asking = ref(false)
const done = ref('')
onMounted(async () => {
  centres.value = (await api(ReadChoices)).costCentres
  form.costCentre = centres.value[0]?.code ?? ''
})
async function look(): Promise<void> {
  if (form.costCentre) preview.value = await run(() => api(PreviewYearChange, { body: { ...form } }))
}
watch(
  form,
  () => {
    done.value = ''
    void look()
  },
  { deep: true },
)
const sum = (key: 'carried' | 'budget' | 'rest'): string =>
  amountText(sumTexts(preview.value?.moves.map(move => move[key]) ?? []))
const moves = computed(
  () =>
    preview.value?.moves.filter(
      move => Number(move.carried) !== 0 || Number(move.rest) !== 0 || Number(move.budget) !== 0,
    ) ?? [],
)
async function go(reason: string): Promise<void> {
  const answer = await run(() => api(ChangeYear, { body: { ...form, reason } }))
  if (!answer) return
  asking.value = false
  done.value = `${form.costCentre}: ${answer.moves.length} accounts of ${form.fromYear} are closed; what was open goes on in ${form.fromYear + 1}.`
  await look()
}
</script>

<template>
  <article class="year">
    <h1>Change of the fiscal year</h1>
    <p class="quiet">
      What is reserved, committed or accrued on open lines goes to the same accounts of the next year, entry by entry;
      what was spent stays. The old accounts are closed.
    </p>
    <div class="form-grid">
      <FormField label="From"
        ><ElSelect v-model="form.fromYear" data-test="year-from"
          ><ElOption
            v-for="one in [year - 2, year - 1, year]"
            :key="one"
            :value="one"
            :label="`${one} to ${one + 1}`" /></ElSelect></FormField
      ><FormField label="Cost centre"
        ><ElSelect v-model="form.costCentre" filterable default-first-option data-test="year-centre"
          ><ElOption
            v-for="one in centres"
            :key="one.code"
            :value="one.code"
            :label="`${one.code} ${one.name}`" /></ElSelect
      ></FormField>
    </div>
    <p class="bar">
      <ElCheckbox v-model="form.carryBudget" label="the budget of what is carried goes along" /><ElCheckbox
        v-model="form.carryRest"
        label="what is left goes along"
        data-test="carry-rest"
      />
    </p>
    <p v-if="done" class="reasons note" role="status" data-test="year-done">{{ done }}</p>
    <p v-else-if="preview?.done" class="reasons note">This was done already.</p>
    <ReasonList v-if="!asking" :reasons="reasons" />
    <LineTable
      class="section"
      v-if="moves.length"
      :rows="moves"
      :columns="
        lineColumns({
          account: 'Account',
          '#carried': 'Open, carried',
          '#budget': 'Its budget',
          '#rest': 'What is left',
          '#lines': 'Lines',
        })
      "
      label="What moves"
      :key-of="move => move.account"
      :sums="[
        {
          key: 'all',
          cells: {
            account: `In all, ${preview?.currency}`,
            carried: sum('carried'),
            budget: sum('budget'),
            rest: sum('rest'),
          },
          total: true,
        },
      ]"
      ><template #account="{ row: move }">{{ move.account }}</template>
      <template #carried="{ row: move }">{{ amountText(move.carried) }}</template>
      <template #budget="{ row: move }">{{ amountText(move.budget) }}</template>
      <template #rest="{ row: move }">{{ amountText(move.rest) }}</template>
      <template #lines="{ row: move }">{{ move.lines }}</template></LineTable
    >
    <p v-else-if="preview && !preview.done" class="empty">
      Nothing of {{ form.costCentre }} is open in {{ form.fromYear }}.
    </p>
    <p v-if="preview && !preview.done && preview.moves.length" class="bar">
      <ElButton type="primary" :disabled="busy" data-test="change-year" @click="asking = true"
        >Change the year of {{ form.costCentre }}</ElButton
      >
    </p>
    <ActDialog
      :open="asking"
      :title="`Change ${form.fromYear} of ${form.costCentre}`"
      :what="`${preview?.moves.length ?? 0} accounts of ${form.fromYear} are closed, ${sum('carried')} ${preview?.currency} of open lines go to ${form.fromYear + 1}. This is done once.`"
      button="Change the year"
      :busy="busy"
      :reasons="reasons"
      @close="asking = false"
      @go="go"
    />
  </article>
</template>

<style scoped>
.year {
  padding: 20px 28px 60px;
  max-width: 900px;
}
.form-grid {
  margin: 14px 0 8px;
  max-width: 560px;
  grid-template-columns: 1fr 1fr;
}
.bar {
  margin: 8px 0;
}
</style>
