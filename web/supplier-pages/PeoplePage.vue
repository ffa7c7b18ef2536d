<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { onMounted, reactive, ref, shallowRef } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { SUPPLIER_PERMISSIONS } from '#contract/permissions.ts'
import {
  HandOver,
  ReadCompanyPeople,
  SaveAddresses,
  SaveCompanyPerson,
  SaveCompanyRole,
  SendPersonLink,
} from '#contract/source/company.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useSession } from '#web/people/session.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label } from '#web/shared/words.ts'
import MessageAddresses from '#web/supplier-pages/MessageAddresses.vue'
import SupplierFrame from '#web/supplier-pages/SupplierFrame.vue'
import { t } from '#web/shared/language.ts'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** The supplier's own people: who may do what, who gets which message, who looks after all this. */
type Answer = ResponseOf<typeof ReadCompanyPeople>
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const answer = shallowRef<Answer>()
const failure = shallowRef<unknown>()
const person = reactive({
  open: false,
  id: null as string | null,
  name: '',
  email: '',
  roleId: null as string | null,
  active: true,
})
const role = reactive({
  open: false,
  id: null as string | null,
  name: '',
  permissions: [] as Answer['roles'][number]['permissions'],
})
const sent = ref('')
const handing = ref<Answer['people'][number]>()
async function load(): Promise<void> {
  try {
    answer.value = await api(ReadCompanyPeople)
  } catch (error) {
    failure.value = error
  }
}
onMounted(load)
function editPerson(one?: Answer['people'][number]): void {
  clear()
  Object.assign(person, {
    open: true,
    id: one?.id ?? null,
    name: one?.name ?? '',
    email: one?.email ?? '',
    roleId: one?.roleId ?? null,
    active: one?.active ?? true,
  })
}
function editRole(one?: Answer['roles'][number]): void {
  clear()
  Object.assign(role, {
    open: true,
    id: one?.id ?? null,
    name: one?.name ?? '',
    permissions: [...(one?.permissions ?? [])],
  })
}
async function savePerson(): Promise<void> {
  const { open: _open, ...body } = person
  if (await run(() => api(SaveCompanyPerson, { body }))) {
    person.open = false
    await load()
  }
}
async function saveRole(): Promise<void> {
  const { open: _open, ...body } = role
  if (await run(() => api(SaveCompanyRole, { body }))) {
    role.open = false
    await load()
  }
}
async function link(one: Answer['people'][number]): Promise<void> {
  clear()
  if (await run(() => api(SendPersonLink, { params: { id: one.id } }))) sent.value = one.email
}
async function handOver(reason: string): Promise<void> {
  if (await run(() => api(HandOver, { params: { id: handing.value!.id }, body: { reason } }))) {
    handing.value = undefined
    await session.load()
    location.assign('/supplier')
  }
}
async function saveAddresses(addresses: BodyOf<typeof SaveAddresses>['addresses']): Promise<void> {
  clear()
  if (await run(() => api(SaveAddresses, { body: { addresses } }))) await load()
}
const toggle = (permission: (typeof SUPPLIER_PERMISSIONS)[number]): void => {
  const at = role.permissions.indexOf(permission)
  if (at < 0) role.permissions.push(permission)
  else role.permissions.splice(at, 1)
}
</script>

<template>
  <SupplierFrame
    ><SheetFailure v-if="failure" :failure="failure" @again="load" />
    <template v-else-if="answer"
      ><h1>{{ t('People and messages') }}</h1>
      <p v-if="sent" class="reasons note" role="status">{{ t('A new link went to {email}.', { email: sent }) }}</p>
      <ReasonList v-if="!person.open && !role.open && !handing" :reasons="reasons" />
      <section class="section paper">
        <h2>{{ t('People') }}</h2>
        <LineTable
          :off="one => !one.active"
          :rows="answer.people"
          :columns="lineColumns({ name: t('Name'), role: t('Role'), '#acts': '' })"
          :label="t('People')"
          bare
          :key-of="one => one.id"
          ><template #name="{ row: one }"
            ><b>{{ one.name }}</b
            ><small>{{ one.email }}</small></template
          >
          <template #role="{ row: one }"
            >{{
              one.administrator
                ? t('administrator: may do everything')
                : (answer.roles.find(other => other.id === one.roleId)?.name ?? t('no role yet'))
            }}<small v-if="!one.active">{{ t('closed') }}</small
            ><small v-else-if="!one.registered">{{ t('has not chosen a password yet') }}</small></template
          >
          <template #acts="{ row: one }"
            ><ElButton link @click="editPerson(one)">{{ t('change') }}</ElButton>
            <ElButton link v-if="one.active && !one.me" :disabled="busy" @click="link(one)">
              {{ t('send a new link') }}
            </ElButton>
            <ElButton
              link
              v-if="one.active && !one.administrator && !one.me"
              @click="
                () => {
                  clear()
                  handing = one
                }
              "
            >
              {{ t('hand over to') }}
            </ElButton></template
          ></LineTable
        >
        <p class="bar">
          <ElButton data-test="add-person" @click="editPerson()">{{ t('Add a person') }}</ElButton>
        </p>
      </section>
      <section class="section paper">
        <h2>{{ t('Roles') }}</h2>
        <p v-if="!answer.roles.length" class="quiet">
          {{ t('A role is what somebody may do here. Make one, then give it to people.') }}
        </p>
        <LineTable
          v-else
          :rows="answer.roles"
          :columns="lineColumns({ name: t('Role'), rights: t('May'), '~#people': t('People'), '#acts': '' })"
          :label="t('Roles')"
          bare
          :key-of="one => one.id"
          ><template #name="{ row: one }"
            ><b>{{ one.name }}</b></template
          >
          <template #rights="{ row: one }">{{
            one.permissions.map(right => label('supplier right', right)).join(', ') || t('nothing')
          }}</template>
          <template #people="{ row: one }"
            ><span class="quiet">{{ t('{count} people', { count: one.people }) }}</span></template
          >
          <template #acts="{ row: one }"
            ><ElButton link @click="editRole(one)">{{ t('change') }}</ElButton></template
          ></LineTable
        >
        <p class="bar">
          <ElButton data-test="add-role" @click="editRole()">{{ t('Make a role') }}</ElButton>
        </p>
      </section>
      <MessageAddresses :addresses="answer.addresses" :busy="busy" @save="saveAddresses" />
    </template>
    <ElDialog v-model="person.open" :title="person.id ? t('Change the person') : t('Add a person')" width="460px"
      ><EntryForm :reasons="reasons" :busy="busy" @submit="savePerson"
        ><div class="column">
          <FormField :label="t('Name')"><ElInput v-model="person.name" data-test="person-name" /></FormField
          ><FormField :label="t('Mail address')" place="email"
            ><ElInput v-model="person.email" data-test="person-mail" /></FormField
          ><FormField :label="t('Role')"
            ><ElSelect v-model="person.roleId" clearable :value-on-clear="null" :placeholder="t('none')"
              ><ElOption
                v-for="one in answer?.roles"
                :key="one.id"
                :value="one.id"
                :label="one.name" /></ElSelect></FormField
          ><ElCheckbox v-if="person.id" v-model="person.active" :label="t('The account is open')" />
        </div>
        <p v-if="!person.id" class="quiet">{{ t('They get a mail with a link to choose a password.') }}</p>
        <template #acts
          ><ElButton
            type="primary"
            :disabled="busy || !person.name || !person.email"
            data-test="save-person"
            native-type="submit"
            >{{ t('Save') }}</ElButton
          ><ElButton @click="person.open = false">{{ t('Leave it') }}</ElButton></template
        ></EntryForm
      ></ElDialog
    >
    <ElDialog v-model="role.open" :title="role.id ? t('Change the role') : t('A new role')" width="460px"
      ><EntryForm :reasons="reasons" :busy="busy" @submit="saveRole"
        ><FormField :label="t('Name')" place="name"><ElInput v-model="role.name" data-test="role-name" /></FormField>
        <p v-for="one in SUPPLIER_PERMISSIONS" :key="one">
          <ElCheckbox
            :model-value="role.permissions.includes(one)"
            :label="label('supplier right', one)"
            @change="toggle(one)"
          />
        </p>
        <template #acts
          ><ElButton type="primary" :disabled="busy || !role.name" data-test="save-role" native-type="submit">{{
            t('Save')
          }}</ElButton
          ><ElButton @click="role.open = false">{{ t('Leave it') }}</ElButton></template
        ></EntryForm
      ></ElDialog
    >
    <ActDialog
      :open="!!handing"
      :title="t('Hand the administration to {name}', { name: handing?.name ?? '' })"
      :what="
        t(
          'From then on they look after people, roles and messages, and you no longer do. Both of you are told by mail.',
        )
      "
      :button="t('Hand over')"
      :busy="busy"
      :reasons="reasons"
      @close="handing = undefined"
      @go="handOver"
    />
  </SupplierFrame>
</template>

<style scoped>
.bar {
  margin-top: 10px;
}
.off {
  color: var(--ink-quiet);
}
small {
  display: block;
  color: var(--ink-quiet);
}
.column {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
</style>
