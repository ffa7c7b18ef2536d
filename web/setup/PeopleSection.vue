<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { ChangePerson, ListPeople } from '#contract/setup/endpoints.ts'
import { ImportSetup } from '#contract/setup/house.ts'
import { ReadRegister } from '#contract/setup/registers.ts'
import { CreatePerson, InvitePerson, ResetSecondFactor } from '#contract/setup/people.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import HandOverDialog from '#web/consent/HandOverDialog.vue'
import LimitsDialog from '#web/rules/LimitsDialog.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import ImportDialog from '#web/shared/ImportDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { label } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** The people of the team: who they are, what they may, and whether their account is open. */
type People = ResponseOf<typeof ListPeople>
type Person = People['people'][number]
const { data: people, reload } = useRead(ListPeople)
const { data: choices } = useRead(ReadChoices)
const costCentres = computed(() => choices.value?.costCentres ?? [])
const { data: register } = useRead(ReadRegister, { params: { register: 'sites' } })
const sites = computed(() => register.value?.entries.filter(entry => entry.open) ?? [])
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const form = reactive({
  open: false,
  id: '',
  version: 1,
  name: '',
  email: '',
  managerId: null as string | null,
  active: true,
  site: null as string | null,
  roles: [] as { role: string; costCentre: string | null }[],
})
const unused = ref('')
const importing = ref(false)
const resetting = ref<Person>()
const limiting = ref<Person>()
const leaving = ref<Person>()
const said = ref('')

function edit(one?: Person): void {
  clear()
  said.value = ''
  Object.assign(form, {
    open: true,
    id: one?.id ?? '',
    version: one?.version ?? 1,
    name: one?.name ?? '',
    email: one?.email ?? '',
    managerId: null,
    active: one?.active ?? true,
    site: one?.site ?? null,
    roles: one ? one.roles.map(role => ({ ...role })) : [{ role: 'requester', costCentre: null }],
  })
}
async function save(): Promise<void> {
  const { id, version, active, roles, site, name, email, managerId } = form
  const done = await run(() =>
    id
      ? api(ChangePerson, { params: { id }, body: { version, active, roles, site } })
      : api(CreatePerson, { body: { name, email: email.trim(), roles, managerId } }),
  )
  if (!done) return
  form.open = false
  said.value = done.waits ? 'Power over money waits until a second person has agreed.' : ''
  void reload()
}
async function invite(one: Person): Promise<void> {
  if (await run(() => api(InvitePerson, { params: { id: one.id } })))
    said.value = `A link is on its way to ${one.email}.`
}
async function limited(waits: boolean): Promise<void> {
  limiting.value = undefined
  said.value = waits ? 'The higher limit holds when a second person has agreed.' : ''
  await reload()
}
async function reset(reason: string): Promise<void> {
  const one = resetting.value!
  if (!(await run(() => api(ResetSecondFactor, { params: { id: one.id }, body: { reason } })))) return
  resetting.value = undefined
  said.value = `${one.name} has no second factor any more.`
}
function addRole(role: string): void {
  if (role) form.roles.push({ role, costCentre: null })
  unused.value = ''
}
</script>

<template>
  <section class="section" data-test="people">
    <h1>People</h1>
    <LineTable
      :rows="people?.people ?? []"
      :columns="lineColumns({ name: 'Name', roles: 'Roles', manager: 'Next in the chain', acts: '' })"
      label="People"
      :key-of="one => one.id"
      :off="one => !one.active"
      ><template #name="{ row: one }">
        {{ one.name }}<small>{{ one.active ? one.email : 'account closed' }}</small>
      </template>
      <template #roles="{ row: one }">
        {{
          one.roles.map(role => label('role', role.role) + (role.costCentre ? ` ${role.costCentre}` : '')).join(', ')
        }}
      </template>
      <template #manager="{ row: one }">{{ one.manager }}</template>
      <template #acts="{ row: one }"
        ><div class="acts">
          <template v-if="session.may('setup.write')">
            <ElButton link type="primary" :data-test="`person-${one.name.split(' ')[0]}`" @click="edit(one)"
              >change</ElButton
            ><ElButton
              v-if="one.active"
              link
              type="primary"
              :data-test="`limits-${one.name.split(' ')[0]}`"
              @click="limiting = one"
              >limits</ElButton
            ><ElButton link type="primary" :data-test="`hand-over-${one.name.split(' ')[0]}`" @click="leaving = one"
              >hand over</ElButton
            ><ElButton v-if="one.active" link type="primary" @click="invite(one)">send a link</ElButton
            ><ElButton
              v-if="one.secondFactor && one.id !== session.person?.id"
              link
              type="primary"
              @click="resetting = one"
              >reset the second factor</ElButton
            >
          </template>
        </div></template
      ></LineTable
    >
    <p v-if="said" role="status">{{ said }}</p>
    <ReasonList v-if="!form.open && !resetting" :reasons="reasons" />
    <p v-if="session.may('setup.write')" class="bar">
      <ElButton data-test="new-person" @click="edit()">Add a person</ElButton
      ><ElButton data-test="import-people" @click="importing = true">Take in a file</ElButton>
    </p>
    <ElDialog v-model="form.open" :title="form.id ? form.name : 'A new person'" width="560px">
      <EntryForm :reasons="reasons" :busy="busy" @submit="save">
        <template v-if="form.id"
          ><ElCheckbox v-model="form.active" label="The account is open" /><FormField
            label="Works at (its days and clocks count for decisions)"
            place="site"
            ><ElSelect
              v-model="form.site"
              placeholder="nowhere in particular"
              clearable
              :value-on-clear="null"
              data-test="person-site"
              ><ElOption
                v-for="one in sites"
                :key="one.id"
                :value="one.values.code!"
                :label="one.values.name" /></ElSelect></FormField
        ></template>
        <div v-else class="form-grid">
          <FormField label="Name" place="name"><ElInput v-model="form.name" data-test="person-name" /></FormField
          ><FormField label="Mail address" place="email"
            ><ElInput v-model="form.email" data-test="person-email"
          /></FormField>
          <FormField label="Next in the chain"
            ><ElSelect
              v-model="form.managerId"
              placeholder="nobody"
              filterable
              default-first-option
              clearable
              :value-on-clear="null"
              ><ElOption
                v-for="one in people?.people.filter(somebody => somebody.active)"
                :key="one.id"
                :value="one.id"
                :label="one.name" /></ElSelect
          ></FormField>
        </div>
        <p v-for="(role, index) in form.roles" :key="index" class="bar role">
          <span>{{ label('role', role.role) }}</span><ElSelect
            v-model="role.costCentre"
            placeholder="everywhere"
            clearable
            :value-on-clear="null"
            style="width: 200px"
            ><ElOption
              v-for="one in costCentres"
              :key="one.code"
              :value="one.code"
              :label="`${one.code} ${one.name}`" /></ElSelect
          ><ElButton link type="primary" @click="form.roles.splice(index, 1)">take away</ElButton>
        </p>
        <ElSelect
          v-model="unused"
          placeholder="Give a role"
          style="width: 220px"
          data-test="give-role"
          @change="addRole"
          ><ElOption v-for="one in people?.roles" :key="one.code" :value="one.code" :label="label('role', one.code)"
        /></ElSelect>
        <template #acts
          ><ElButton
            type="primary"
            :disabled="busy || !form.name || (!form.id && !form.email)"
            data-test="save-person"
            native-type="submit"
            >Save</ElButton
          ><ElButton @click="form.open = false">Leave it</ElButton></template
        ></EntryForm
      >
    </ElDialog>
    <HandOverDialog v-if="leaving" :person="leaving" @close="leaving = undefined" />
    <LimitsDialog v-if="limiting" :person="limiting" @done="limited" @close="limiting = undefined" />
    <ActDialog
      v-if="resetting"
      :open="true"
      title="Reset the second factor"
      :what="`${resetting.name} comes in with the password alone until a new one is set; every session of theirs ends.`"
      button="Reset it"
      :busy="busy"
      :reasons="reasons"
      @close="resetting = undefined"
      @go="reset"
    />
    <ImportDialog
      v-if="importing"
      title="Take in people"
      what="a file with the columns name, email, roles (such as budgetHolder@AC-110|requester) and manager"
      :send="(fileId, dryRun) => api(ImportSetup, { params: { what: 'people' }, body: { fileId, dryRun } })"
      @close="((importing = false), void reload())"
    />
  </section>
</template>

<style scoped>
.off td {
  color: var(--ink-quiet);
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
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
}
.acts .el-button {
  min-height: 24px;
  margin-left: 0;
}
</style>
