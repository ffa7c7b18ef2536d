<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { onMounted, reactive, ref, shallowRef } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { ChangePerson, ChangeRule, CreateRule, ListPeople, ListRules } from '#contract/setup/endpoints.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import OwnAccountSection from '#web/setup/OwnAccountSection.vue'
import AddressSection from '#web/setup/AddressSection.vue'
import CategorySection from '#web/setup/CategorySection.vue'
import FormSection from '#web/setup/FormSection.vue'
import NoticeSection from '#web/setup/NoticeSection.vue'
import RequestSection from '#web/setup/RequestSection.vue'
import QuestionnaireSection from '#web/setup/QuestionnaireSection.vue'
import { amountText, label } from '#web/shared/words.ts'

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
const person = reactive({
  open: false,
  id: '',
  version: 1,
  name: '',
  active: true,
  roles: [] as { role: string; costCentre: string | null }[],
})
const unused = ref('')
const SECTIONS = [
  'Who decides',
  'People',
  'What is bought',
  'Names and harmless changes',
  'Requests',
  'Address book',
  'Request forms',
  'Notices to those who ask',
  'What suppliers are asked',
  'The account we pay from',
] as const
const goTo = (title: string): void =>
  [...document.querySelectorAll('.setup h2')]
    .find(one => one.textContent?.startsWith(title))
    ?.scrollIntoView({ block: 'start' })

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
  if (
    await run(() =>
      rule.id
        ? api(ChangeRule, { params: { id: rule.id }, body: { ...body, version: rule.version } })
        : api(CreateRule, { body }),
    )
  ) {
    rule.open = false
    await load()
  }
}
function editPerson(one: ResponseOf<typeof ListPeople>['people'][number]): void {
  clear()
  Object.assign(person, {
    open: true,
    id: one.id,
    version: one.version,
    name: one.name,
    active: one.active,
    roles: one.roles.map(role => ({ ...role })),
  })
}
async function savePerson(): Promise<void> {
  if (
    await run(() =>
      api(ChangePerson, {
        params: { id: person.id },
        body: { version: person.version, active: person.active, roles: person.roles },
      }),
    )
  ) {
    person.open = false
    await load()
  }
}
function addRole(role: string): void {
  if (role) person.roles.push({ role, costCentre: null })
  unused.value = ''
}
</script>

<template>
  <main class="setup">
    <div class="column">
      <h1>Setup</h1>
      <p class="bar sections">
        <button v-for="one in SECTIONS" :key="one" type="button" class="plain" @click="goTo(one)">{{ one }}</button>
      </p>
      <section class="section">
        <h2>Who decides</h2>
        <p class="quiet">
          All rules that match a request apply, stage by stage. A person asked twice is asked once, at the latest stage;
          nobody decides their own. A change counts for what is submitted from then on.
        </p>
        <table class="lines">
          <thead>
            <tr>
              <th class="num">Stage</th>
              <th>Rule</th>
              <th>Cost centres</th>
              <th class="num">From, {{ rules?.currency }}</th>
              <th class="num">Below</th>
              <th>Asks</th>
              <th />
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in rules?.rules" :key="one.id" :class="{ off: !one.active }">
              <td class="num">{{ one.stage }}</td>
              <td>{{ one.name }}<small v-if="!one.active">switched off</small></td>
              <td>{{ one.costCentres.length ? one.costCentres.join(', ') : 'all' }}</td>
              <td class="num">{{ amountText(one.fromAmount) }}</td>
              <td class="num">{{ one.upTo ? amountText(one.upTo) : 'no end' }}</td>
              <td>
                {{ label('role', one.askedLabel)
                }}<small v-if="one.stalled" class="tone-stop">this account is closed: requests will stall</small>
              </td>
              <td>
                <button v-if="session.may('setup.write')" type="button" class="plain" @click="editRule(one)">
                  change
                </button>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="session.may('setup.write')" class="bar">
          <ElButton data-test="new-rule" @click="editRule()">Add a rule</ElButton>
        </p>
      </section>
      <section class="section">
        <h2>People</h2>
        <table class="lines">
          <thead>
            <tr>
              <th>Name</th>
              <th>Roles</th>
              <th>Next in the chain</th>
              <th />
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="one in people?.people.filter(somebody => somebody.roles.length)"
              :key="one.id"
              :class="{ off: !one.active }"
            >
              <td>
                {{ one.name }}<small>{{ one.active ? one.email : 'account closed' }}</small>
              </td>
              <td>
                {{
                  one.roles
                    .map(role => label('role', role.role) + (role.costCentre ? ` ${role.costCentre}` : ''))
                    .join(', ')
                }}
              </td>
              <td>{{ one.manager }}</td>
              <td>
                <button
                  v-if="session.may('setup.write')"
                  type="button"
                  class="plain"
                  :data-test="`person-${one.name.split(' ')[0]}`"
                  @click="editPerson(one)"
                >
                  change
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <CategorySection />
      <RequestSection />
      <AddressSection />
      <FormSection />
      <NoticeSection />
      <QuestionnaireSection />
      <OwnAccountSection />
    </div>
    <ElDialog v-model="rule.open" :title="rule.id ? 'Change the rule' : 'A new rule'" width="560px"
      ><div class="form-grid">
        <label>Name<ElInput v-model="rule.name" data-test="rule-name" /></label
        ><label
          >Stage<ElSelect v-model="rule.stage"
            ><ElOption v-for="stage in 9" :key="stage" :value="stage" :label="String(stage)" /></ElSelect
        ></label>
        <label>From, {{ rules?.currency }}<NumberField v-model="rule.fromAmount" label="From" /></label
        ><label data-place="upTo">Below (empty: no end)<NumberField v-model="rule.upTo" label="Below" /></label>
        <label
          >Cost centres (none: all)<ElSelect v-model="rule.costCentres" multiple filterable
            ><ElOption
              v-for="one in choices?.costCentres"
              :key="one.code"
              :value="one.code"
              :label="`${one.code} ${one.name}`" /></ElSelect
        ></label>
        <label
          >Asks<ElSelect v-model="rule.kind"
            ><ElOption value="holder" label="the holder of the cost centre" /><ElOption
              value="role"
              label="somebody with a role" /><ElOption value="person" label="one person" /></ElSelect
        ></label>
        <label v-if="rule.kind === 'role'"
          >Role<ElSelect v-model="rule.role"
            ><ElOption
              v-for="one in people?.roles"
              :key="one.code"
              :value="one.code"
              :label="label('role', one.code)" /></ElSelect></label
        ><label v-if="rule.kind === 'person'"
          >Person<ElSelect v-model="rule.personId" filterable
            ><ElOption v-for="one in choices?.people" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
        ></label>
        <ElCheckbox v-model="rule.active" label="in force" />
      </div>
      <ReasonList :reasons="reasons" />
      <template #footer
        ><ElButton type="primary" :disabled="busy || !rule.name" data-test="save-rule" @click="saveRule"
          >Save the rule</ElButton
        ><ElButton @click="rule.open = false">Leave it</ElButton></template
      ></ElDialog
    >
    <ElDialog v-model="person.open" :title="person.name" width="520px"
      ><ElCheckbox v-model="person.active" label="The account is open" />
      <p v-for="(role, index) in person.roles" :key="index" class="bar role">
        <span>{{ label('role', role.role) }}</span><ElSelect
          v-model="role.costCentre"
          placeholder="everywhere"
          clearable
          :value-on-clear="null"
          style="width: 200px"
          ><ElOption
            v-for="one in choices?.costCentres"
            :key="one.code"
            :value="one.code"
            :label="`${one.code} ${one.name}`" /></ElSelect
        ><button type="button" class="plain" @click="person.roles.splice(index, 1)">take away</button>
      </p>
      <ElSelect v-model="unused" placeholder="Give a role" style="width: 220px" @change="addRole"
        ><ElOption
          v-for="one in people?.roles"
          :key="one.code"
          :value="one.code"
          :label="label('role', one.code)" /></ElSelect
      ><ReasonList :reasons="reasons" />
      <template #footer
        ><ElButton type="primary" :disabled="busy" @click="savePerson">Save</ElButton
        ><ElButton @click="person.open = false">Leave it</ElButton></template
      ></ElDialog
    >
  </main>
</template>

<style scoped>
.setup {
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  padding: 24px;
}
.column {
  max-width: 980px;
  margin: 0 auto;
}
.off td {
  color: var(--ink-quiet);
}
.sections {
  gap: 2px 16px;
  margin: 8px 0;
  min-height: 24px;
}
.sections button {
  min-height: 24px;
}
.role {
  margin: 8px 0;
}
.role span {
  min-width: 130px;
}
.bar {
  margin-top: 10px;
}
</style>
