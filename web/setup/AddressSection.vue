<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { onMounted, reactive, ref, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ListAddresses, SaveAddress } from '#contract/request/forms.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import { useAction } from '#web/shared/useAction.ts'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** The address book: where things are delivered and work is done. */
type Address = ResponseOf<typeof ListAddresses>['addresses'][number]
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const all = shallowRef<readonly Address[]>([])
const open = ref(false)
const EMPTY = {
  id: null as string | null,
  code: '',
  name: '',
  dock: '',
  street: '',
  postalCode: '',
  city: '',
  country: '',
  hours: '',
  contact: '',
  phone: '',
  purposes: ['delivery', 'performance'] as ('delivery' | 'performance')[],
  open: true,
}
const form = reactive({ ...EMPTY })
const load = async (): Promise<void> => {
  all.value = (await api(ListAddresses)).addresses
}
onMounted(load)
function edit(one?: Address): void {
  clear()
  const { used: _used, ...rest } = one ?? { ...EMPTY, used: 0 }
  Object.assign(form, { ...rest, purposes: [...rest.purposes] })
  open.value = true
}
async function save(): Promise<void> {
  if (await run(() => api(SaveAddress, { body: { ...form } }))) {
    open.value = false
    await load()
  }
}
</script>

<template>
  <section class="section" data-test="addresses">
    <h1>Address book</h1>
    <LineTable
      :rows="all"
      :columns="
        lineColumns({ site: 'Site', where: 'Where', open: 'Open', contact: 'Whom to call', for: 'For', '#acts': '' })
      "
      label="Places"
      :key-of="one => one.id"
      :off="one => !one.open"
      ><template #site="{ row: one }">
        {{ one.name }}<small>{{ one.dock }}, {{ one.code }}{{ one.open ? '' : ', closed' }}</small>
      </template>
      <template #where="{ row: one }">
        {{ one.street }}<small>{{ one.postalCode }} {{ one.city }}, {{ one.country }}</small>
      </template>
      <template #open="{ row: one }">{{ one.hours }}</template>
      <template #contact="{ row: one }">
        {{ one.contact }}<small>{{ one.phone }}</small>
      </template>
      <template #for="{ row: one }">{{
        one.purposes.map(purpose => (purpose === 'delivery' ? 'deliveries' : 'work')).join(', ')
      }}</template>
      <template #acts="{ row: one }">
        <ElButton link v-if="session.may('setup.write')" :data-test="`address-${one.code}`" @click="edit(one)">
          change
        </ElButton>
      </template></LineTable
    >
    <p v-if="session.may('setup.write')" class="bar">
      <ElButton data-test="new-address" @click="edit()">Add an address</ElButton>
    </p>
    <ElDialog v-model="open" :title="form.id ? form.name : 'A new address'" width="560px"
      ><EntryForm :reasons="reasons" :busy="busy" columns @submit="save">
        <FormField label="Site"><ElInput v-model="form.name" data-test="address-name" /></FormField
        ><FormField label="Code" place="code"><ElInput v-model="form.code" data-test="address-code" /></FormField
        ><FormField label="Dock"><ElInput v-model="form.dock" /></FormField
        ><FormField label="Street"><ElInput v-model="form.street" /></FormField
        ><FormField label="Postcode"><ElInput v-model="form.postalCode" /></FormField
        ><FormField label="Place"><ElInput v-model="form.city" /></FormField
        ><FormField label="Country"><ElInput v-model="form.country" maxlength="2" /></FormField
        ><FormField label="Hours"><ElInput v-model="form.hours" /></FormField
        ><FormField label="Whom to call"><ElInput v-model="form.contact" /></FormField
        ><FormField label="Telephone"><ElInput v-model="form.phone" /></FormField
        ><FormField label="For"
          ><ElSelect v-model="form.purposes" multiple
            ><ElOption value="delivery" label="deliveries" /><ElOption
              value="performance"
              label="work" /></ElSelect></FormField
        ><ElCheckbox v-model="form.open" label="in use" />

        <template #acts
          ><ElButton
            type="primary"
            :disabled="busy || !form.name || !form.code"
            data-test="save-address"
            native-type="submit"
            >Save</ElButton
          ><ElButton @click="open = false">Leave it</ElButton></template
        ></EntryForm
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
small {
  display: block;
  color: var(--ink-quiet);
}
</style>
