<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { onMounted, reactive, ref, shallowRef } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { ChangeRule, CreateRule, ListPeople, ListRules } from '#contract/setup/endpoints.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, label } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

const session = useSession()
const { busy, reasons, run, clear } = useAction()
const rules = shallowRef<ResponseOf<typeof ListRules>>()
const people = shallowRef<ResponseOf<typeof ListPeople>>()
const choices = shallowRef<ResponseOf<typeof ReadChoices>>()
const rule = reactive({
  open: false,
  id: '',
  version: 1,
  name: '',
  costCentres: [] as string[],
  fromAmount: '0',
  upTo: '',
  stage: 1,
  kind: 'holder',
  personId: '',
  role: 'financeController',
  active: true,
})
const said = ref('')
async function load(): Promise<void> {
  rules.value = await api(ListRules)
  people.value = await api(ListPeople)
  choices.value ??= await api(ReadChoices)
}
onMounted(load)

function editRule(one?: ResponseOf<typeof ListRules>['rules'][number]): void {
  clear()
  Object.assign(rule, {
    open: true,
    id: one?.id ?? '',
    version: one?.version ?? 1,
    name: one?.name ?? '',
    costCentres: [...(one?.costCentres ?? [])],
    fromAmount: one?.fromAmount ?? '0',
    upTo: one?.upTo ?? '',
    stage: one?.stage ?? 1,
    kind: one?.asked.kind ?? 'holder',
    personId: one?.asked.kind === 'person' ? one.asked.personId : '',
    role: one?.asked.kind === 'role' ? one.asked.role : 'financeController',
    active: one?.active ?? true,
  })
}
async function saveRule(): Promise<void> {
  const asked: BodyOf<typeof CreateRule>['asked'] =
    rule.kind === 'person'
      ? { kind: 'person', personId: rule.personId }
      : rule.kind === 'role'
        ? { kind: 'role', role: rule.role }
        : { kind: 'holder' }
  const body = {
    name: rule.name,
    costCentres: rule.costCentres,
    fromAmount: rule.fromAmount || '0',
    upTo: rule.upTo || null,
    stage: rule.stage,
    asked,
    active: rule.active,
  }
  const done = await run(() =>
    rule.id
      ? api(ChangeRule, { params: { id: rule.id }, body: { ...body, version: rule.version } })
      : api(CreateRule, { body }),
  )
  if (!done) return
  rule.open = false
  said.value = done.waits ? 'The rule holds when a second person has agreed.' : ''
  await loadAll()
}
/** After a change of people, centres or rules: what is chosen from changed too, and somebody may be asked. */
async function loadAll(): Promise<void> {
  choices.value = await api(ReadChoices)
  await load()
}
</script>

<template>
  <section class="section">
    <h1>Who decides</h1>
    <p class="quiet">
      All rules that match a request apply, stage by stage. A person asked twice is asked once, at the latest stage;
      nobody decides their own. A change counts for what is submitted from then on.
    </p>
    <LineTable
      :rows="rules?.rules ?? []"
      :columns="
        lineColumns({
          '#stage': 'Stage',
          rule: 'Rule',
          costCentres: 'Cost centres',
          '#from': `From, ${rules?.currency}`,
          '#below': 'Below',
          asks: 'Asks',
          acts: '',
        })
      "
      label="Rules"
      :key-of="one => one.id"
      :off="one => !one.active"
      ><template #stage="{ row: one }">{{ one.stage }}</template>
      <template #rule="{ row: one }">{{ one.name }}<small v-if="!one.active">switched off</small></template>
      <template #costCentres="{ row: one }">{{ one.costCentres.length ? one.costCentres.join(', ') : 'all' }}</template>
      <template #from="{ row: one }">{{ amountText(one.fromAmount) }}</template>
      <template #below="{ row: one }">{{ one.upTo ? amountText(one.upTo) : 'no end' }}</template>
      <template #asks="{ row: one }">
        {{ label('role', one.askedLabel)
        }}<small v-if="one.stalled" class="tone-stop">this account is closed: requests will stall</small>
      </template>
      <template #acts="{ row: one }">
        <ElButton v-if="session.may('setup.write')" link @click="editRule(one)">change</ElButton>
      </template></LineTable
    >
    <p v-if="session.may('setup.write')" class="bar">
      <ElButton data-test="new-rule" @click="editRule()">Add a rule</ElButton
      ><span v-if="said" class="quiet" role="status">{{ said }}</span>
    </p>
    <ElDialog v-model="rule.open" :title="rule.id ? 'Change the rule' : 'A new rule'" width="560px"
      ><div class="form-grid">
        <FormField label="Name"><ElInput v-model="rule.name" data-test="rule-name" /></FormField
        ><FormField label="Stage"
          ><ElSelect v-model="rule.stage"
            ><ElOption v-for="stage in 9" :key="stage" :value="stage" :label="String(stage)" /></ElSelect
        ></FormField>
        <FormField :label="`From, ${rules?.currency}`"><NumberField v-model="rule.fromAmount" label="From" /></FormField
        ><FormField label="Below (empty: no end)" place="upTo"
          ><NumberField v-model="rule.upTo" label="Below"
        /></FormField>
        <FormField label="Cost centres (none: all)"
          ><ElSelect v-model="rule.costCentres" multiple filterable default-first-option
            ><ElOption
              v-for="one in choices?.costCentres"
              :key="one.code"
              :value="one.code"
              :label="`${one.code} ${one.name}`" /></ElSelect
        ></FormField>
        <FormField label="Asks"
          ><ElSelect v-model="rule.kind"
            ><ElOption value="holder" label="the holder of the cost centre" /><ElOption
              value="role"
              label="somebody with a role" /><ElOption value="person" label="one person" /></ElSelect
        ></FormField>
        <FormField label="Role" v-if="rule.kind === 'role'"
          ><ElSelect v-model="rule.role"
            ><ElOption
              v-for="one in people?.roles"
              :key="one.code"
              :value="one.code"
              :label="label('role', one.code)" /></ElSelect></FormField
        ><FormField label="Person" v-if="rule.kind === 'person'"
          ><ElSelect v-model="rule.personId" filterable default-first-option
            ><ElOption v-for="one in choices?.people" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
        ></FormField>
        <ElCheckbox v-model="rule.active" label="in force" />
      </div>
      <ReasonList :reasons="reasons" />
      <template #footer
        ><ElButton type="primary" :disabled="busy || !rule.name" data-test="save-rule" @click="saveRule"
          >Save the rule</ElButton
        ><ElButton @click="rule.open = false">Leave it</ElButton></template
      ></ElDialog
    >
  </section>
</template>

<style scoped>
.off td {
  color: var(--ink-quiet);
}
.bar {
  margin-top: 10px;
}
</style>
