<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { reactive, ref } from 'vue'
import { ListPeople } from '#contract/setup/endpoints.ts'
import * as house from '#contract/setup/house.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import ImportDialog from '#web/shared/ImportDialog.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** Cost centres and who holds each. */
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const { data: all, reload } = useRead(house.ReadOrganisation)
const { data: people } = useRead(ListPeople)
const form = reactive({ open: false, code: '', name: '', holderId: null as string | null, version: 0 })
const importing = ref(false)
const said = ref('')

function edit(one: Partial<Omit<typeof form, 'open'>> = {}): void {
  clear()
  said.value = ''
  Object.assign(form, { code: '', name: '', holderId: null, version: 0 }, one, { open: true })
}
async function save(): Promise<void> {
  const { holderId, version } = form
  const body = { code: form.code.trim().toUpperCase(), name: form.name.trim(), holderId, version }
  const done = await run(() => api(house.SaveCostCentre, { body }))
  if (!done) return
  form.open = false
  said.value = done.waits ? 'The holder changes when a second person has agreed.' : ''
  await reload()
}
</script>

<template>
  <section v-if="all" class="section" data-test="centres">
    <h1>Cost centres</h1>
    <p v-if="session.may('setup.write')" class="bar">
      <ElButton type="primary" data-test="new-centre" @click="edit()">Add a cost centre</ElButton
      ><ElButton link data-test="import-centres" @click="importing = true">Take in a file</ElButton>
      <span v-if="said" role="status">{{ said }}</span>
    </p>
    <LineTable
      :rows="all.costCentres"
      :columns="lineColumns({ code: 'Code', name: 'Name', holder: 'Holder, who decides', acts: 'Change' })"
      label="Cost centres"
      :key-of="one => one.id"
      ><template #code="{ row: one }">{{ one.code }}</template>
      <template #name="{ row: one }">{{ one.name }}</template>
      <template #holder="{ row: one }">
        {{ one.holder ?? '' }}<small v-if="!one.holder" class="tone-stop">nobody: requests would stall</small>
      </template>
      <template #acts="{ row: one }">
        <ElButton v-if="session.may('setup.write')" link :data-test="`centre-${one.code}`" @click="edit({ ...one })"
          >change</ElButton
        >
      </template></LineTable
    >
    <ElDialog v-model="form.open" title="Cost centre" width="480px">
      <EntryForm :reasons="reasons" :busy="busy" columns @submit="save">
        <FormField label="Code" place="code"
          ><ElInput v-model="form.code" :disabled="form.version > 0" data-test="organisation-code" /></FormField
        ><FormField label="Name" place="name"><ElInput v-model="form.name" data-test="organisation-name" /></FormField
        ><FormField label="Holder" place="holderId" help="Another holder waits until a second person has agreed" whole
          ><ElSelect
            v-model="form.holderId"
            filterable
            default-first-option
            clearable
            :value-on-clear="null"
            data-test="centre-holder"
            ><ElOption
              v-for="one in people?.people.filter(somebody => somebody.active)"
              :key="one.id"
              :value="one.id"
              :label="one.name" /></ElSelect
        ></FormField>
        <template #acts
          ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-organisation"
            >Keep it</ElButton
          ><ElButton @click="form.open = false">Leave it</ElButton></template
        >
      </EntryForm>
    </ElDialog>
    <ImportDialog
      v-if="importing"
      title="Take in cost centres"
      what="a file with the columns code, name and holder (a mail address)"
      :send="(fileId, dryRun) => api(house.ImportSetup, { params: { what: 'costCentres' }, body: { fileId, dryRun } })"
      @close="((importing = false), reload())"
    />
  </section>
</template>

<style scoped>
.bar {
  margin: 12px 0;
}
</style>
