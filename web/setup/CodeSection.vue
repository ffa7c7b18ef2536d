<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput } from 'element-plus'
import { reactive, ref } from 'vue'
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

/** Natural accounts and projects: what money is spent on. */
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const { data: all, reload } = useRead(house.ReadOrganisation)
const form = reactive({ kind: '' as '' | 'account' | 'project', code: '', name: '', open: true, known: false })
const importing = ref(false)

function edit(kind: 'account' | 'project', one?: { code: string; name: string; open?: boolean }): void {
  clear()
  Object.assign(form, { code: '', name: '', open: true }, one, { kind, known: one !== undefined })
}
async function save(): Promise<void> {
  const body = { code: form.code.trim().toUpperCase(), name: form.name.trim() }
  const done = await run(() =>
    form.kind === 'account'
      ? api(house.SaveAccount, { body })
      : api(house.SaveProject, { body: { ...body, open: form.open } }),
  )
  if (!done) return
  form.kind = ''
  await reload()
}
</script>

<template>
  <section v-if="all" class="section">
    <h1>Accounts and projects</h1>
    <template
      v-for="[kind, heading, rows] in [
        ['account', 'Accounts', all.accounts],
        ['project', 'Projects', all.projects],
      ] as const"
      :key="kind"
      ><h2>{{ heading }}</h2>
      <p v-if="session.may('setup.write')" class="bar">
        <ElButton :data-test="`new-${kind}`" @click="edit(kind)">Add one</ElButton
        ><ElButton v-if="kind === 'account'" link data-test="import-accounts" @click="importing = true"
          >Take in a file</ElButton
        >
      </p>
      <LineTable
        v-if="rows.length"
        :rows="rows"
        :columns="lineColumns({ code: 'Code', name: 'Name', '#acts': 'Change' })"
        :label="heading"
        :key-of="one => one.code"
        bare
        ><template #code="{ row: one }"
          ><div class="code">{{ one.code }}</div></template
        >
        <template #name="{ row: one }"
          >{{ one.name }}<span v-if="'open' in one && !one.open" class="quiet">, closed</span></template
        >
        <template #acts="{ row: one }">
          <ElButton v-if="session.may('setup.write')" link @click="edit(kind, one)">change</ElButton>
        </template></LineTable
      ></template
    >
    <ElDialog
      :model-value="form.kind !== ''"
      :title="form.kind === 'project' ? 'Project' : 'Account'"
      width="480px"
      @close="form.kind = ''"
    >
      <EntryForm :reasons="reasons" :busy="busy" columns @submit="save">
        <FormField label="Code" place="code"
          ><ElInput v-model="form.code" :disabled="form.known" data-test="organisation-code" /></FormField
        ><FormField label="Name" place="name"><ElInput v-model="form.name" data-test="organisation-name" /></FormField
        ><ElCheckbox v-if="form.kind === 'project'" v-model="form.open" label="open" />
        <template #acts
          ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-organisation"
            >Keep it</ElButton
          ><ElButton @click="form.kind = ''">Leave it</ElButton></template
        >
      </EntryForm>
    </ElDialog>
    <ImportDialog
      v-if="importing"
      title="Take in accounts"
      what="a file with the columns code and name"
      :send="(fileId, dryRun) => api(house.ImportSetup, { params: { what: 'accounts' }, body: { fileId, dryRun } })"
      @close="((importing = false), reload())"
    />
  </section>
</template>

<style scoped>
h2 {
  margin-top: 22px;
}
.bar {
  margin: 8px 0;
}
.code {
  width: 120px;
}
</style>
