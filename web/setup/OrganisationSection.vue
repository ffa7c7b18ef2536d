<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { onMounted, reactive, ref, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import * as house from '#contract/setup/house.ts'
import { currencies } from '#core/money/currency.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import ImportDialog from '#web/shared/ImportDialog.vue'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { day, label } from '#web/shared/words.ts'

/** Cost centres with their holders, accounts, projects, exchange rates, and how people come in. */
type Organisation = ResponseOf<typeof house.ReadOrganisation>
defineProps<{
  people: readonly { id: string; name: string; active: boolean }[]
  roles: readonly { code: string }[]
}>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const all = shallowRef<Organisation>()
const form = reactive({
  kind: '' as '' | 'centre' | 'account' | 'project' | 'rate',
  code: '',
  name: '',
  holderId: null as string | null,
  version: 0,
  open: true,
  currency: 'USD',
  validFrom: session.today,
  rate: '',
})
const signIn = reactive({ idleMinutes: '240', secondFactorRoles: [] as string[] })
const importing = ref<'costCentres' | 'accounts'>()
const said = ref('')
const TITLES = { centre: 'Cost centre', account: 'Account', project: 'Project', rate: 'Exchange rate' } as const
const COLUMNS = { costCentres: 'code, name and holder (a mail address)', accounts: 'code and name' } as const

async function load(): Promise<void> {
  all.value = await api(house.ReadOrganisation)
  Object.assign(signIn, { ...all.value.signIn, idleMinutes: String(all.value.signIn.idleMinutes) })
}
onMounted(load)
function edit(kind: 'centre' | 'account' | 'project' | 'rate', one: Partial<Omit<typeof form, 'kind'>> = {}): void {
  clear()
  said.value = ''
  const empty = { code: '', name: '', holderId: null, version: 0, open: true, rate: '', validFrom: session.today }
  Object.assign(form, empty, one, { kind })
}
async function save(): Promise<void> {
  const { kind, code, name, holderId, version, open, currency, validFrom, rate } = form
  const coded = { code: code.trim().toUpperCase(), name: name.trim() }
  const done = await run(async () => {
    if (kind === 'centre') return await api(house.SaveCostCentre, { body: { ...coded, holderId, version } })
    if (kind === 'account') await api(house.SaveAccount, { body: coded })
    else if (kind === 'project') await api(house.SaveProject, { body: { ...coded, open } })
    else await api(house.SaveRate, { body: { currency, validFrom, rate } })
    return { waits: false }
  })
  if (!done) return
  form.kind = ''
  said.value = done.waits ? 'The holder changes when a second person has agreed.' : ''
  await load()
  emit('changed')
}
async function saveSignIn(): Promise<void> {
  if (await run(() => api(house.SaveSignIn, { body: { ...signIn, idleMinutes: Number(signIn.idleMinutes) } })))
    said.value = 'Kept.'
}
const MONTHS = new Intl.DateTimeFormat('en-GB', { month: 'long', timeZone: 'UTC' })
const yearFrom = (month: number): string => MONTHS.format(new Date(Date.UTC(2026, month - 1, 1)))
</script>

<template>
  <section v-if="all" class="section" data-test="organisation">
    <h2>Cost centres, accounts and rates</h2>
    <p class="quiet">
      Money is counted in {{ all.base }}; the fiscal year begins in {{ yearFrom(all.fiscalYearFrom) }}.
    </p>
    <table class="lines">
      <thead>
        <tr>
          <th>Cost centre</th>
          <th>Holder, who decides</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in all.costCentres" :key="one.id">
          <td>{{ one.code }} {{ one.name }}</td>
          <td>
            {{ one.holder ?? '' }}<small v-if="!one.holder" class="tone-stop">nobody: requests would stall</small>
          </td>
          <td>
            <ElButton
              v-if="session.may('setup.write')"
              link
              type="primary"
              :data-test="`centre-${one.code}`"
              @click="edit('centre', { ...one })"
              >change</ElButton
            >
          </td>
        </tr>
      </tbody>
    </table>
    <p class="quiet listed">
      Accounts: {{ all.accounts.map(one => `${one.code} ${one.name}`).join(', ') }}.
      <template v-if="all.projects.length"
        >Projects: {{ all.projects.map(one => `${one.code} ${one.name}`).join(', ') }}.</template
      >
    </p>
    <table v-if="all.rates.length" class="lines rates" data-test="rates">
      <thead>
        <tr>
          <th>Currency</th>
          <th class="num">{{ all.base }} for one</th>
          <th>From</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in all.rates" :key="one.currency + one.validFrom">
          <td>{{ one.currency }}</td>
          <td class="num">{{ one.rate }}</td>
          <td>{{ day(one.validFrom) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="said" role="status">{{ said }}</p>
    <ReasonList v-if="form.kind === ''" :reasons="reasons" />
    <p v-if="session.may('setup.write')" class="bar">
      <ElButton data-test="new-centre" @click="edit('centre')">Add a cost centre</ElButton
      ><ElButton data-test="new-account" @click="edit('account')">Add an account</ElButton
      ><ElButton @click="edit('project')">Add a project</ElButton
      ><ElButton data-test="new-rate" @click="edit('rate')">Add a rate</ElButton
      ><ElButton @click="importing = 'costCentres'">Take in cost centres</ElButton
      ><ElButton @click="importing = 'accounts'">Take in accounts</ElButton>
    </p>
    <h3>How people come in</h3>
    <div class="fields">
      <label class="field"
        >Minutes without use until a session ends<NumberField
          v-model="signIn.idleMinutes"
          label="Minutes"
          width="120px"
          :disabled="!session.may('setup.write')" /></label
      ><label class="field"
        >Roles that must have a second factor<ElSelect
          v-model="signIn.secondFactorRoles"
          multiple
          placeholder="none must"
          :disabled="!session.may('setup.write')"
          ><ElOption
            v-for="one in roles"
            :key="one.code"
            :value="one.code"
            :label="label('role', one.code)" /></ElSelect
      ></label>
    </div>
    <p v-if="session.may('setup.write')" class="bar">
      <ElButton :disabled="busy" data-test="save-sign-in" @click="saveSignIn">Keep it</ElButton>
    </p>
    <ElDialog
      :model-value="form.kind !== ''"
      :title="form.kind ? TITLES[form.kind] : ''"
      width="480px"
      @close="form.kind = ''"
    >
      <div v-if="form.kind !== 'rate'" class="form-grid">
        <label data-place="code"
          >Code<ElInput v-model="form.code" :disabled="form.version > 0" data-test="organisation-code" /></label
        ><label data-place="name">Name<ElInput v-model="form.name" data-test="organisation-name" /></label>
        <label v-if="form.kind === 'centre'"
          >Holder<ElSelect v-model="form.holderId" filterable clearable :value-on-clear="null" data-test="centre-holder"
            ><ElOption
              v-for="one in people.filter(somebody => somebody.active)"
              :key="one.id"
              :value="one.id"
              :label="one.name" /></ElSelect
        ></label>
      </div>
      <div v-else class="form-grid">
        <label data-place="currency"
          >Currency<ElSelect v-model="form.currency" filterable
            ><ElOption v-for="one in currencies" :key="one" :value="one" /></ElSelect></label
        ><label data-place="validFrom">From<ElInput v-model="form.validFrom" type="date" /></label>
        <label data-place="rate">{{ all.base }} for one<NumberField v-model="form.rate" label="Rate" /></label>
      </div>
      <ReasonList :reasons="reasons" />
      <template #footer
        ><ElButton type="primary" :disabled="busy" data-test="save-organisation" @click="save">Save</ElButton
        ><ElButton @click="form.kind = ''">Leave it</ElButton></template
      >
    </ElDialog>
    <ImportDialog
      v-if="importing"
      title="Take in a file"
      :what="`a file with the columns ${COLUMNS[importing]}`"
      :send="(fileId, dryRun) => api(house.ImportSetup, { params: { what: importing! }, body: { fileId, dryRun } })"
      @close="((importing = undefined), load(), emit('changed'))"
    />
  </section>
</template>

<style scoped>
.listed,
.rates {
  margin-top: 8px;
}
.rates {
  max-width: 380px;
}
.bar {
  margin-top: 10px;
  flex-wrap: wrap;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(240px, 1fr));
  gap: 12px;
}
h3 {
  margin: 18px 0 8px;
}
</style>
