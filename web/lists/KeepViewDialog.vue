<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { reactive } from 'vue'
import {
  type AskedJson,
  ChangeView,
  type ColumnLookJson,
  KeepView,
  ReadViewAudience,
  type SavedViewJson,
} from '#contract/lists/views.ts'
import type { z } from 'zod'
import { api } from '#web/api.ts'
import FormField from '#web/shared/FormField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { label } from '#web/shared/words.ts'

/** Keeps what a list shows under a name, for oneself or for roles and people who may read the list. */
const props = defineProps<{
  list: string
  /** The view that gets another name or other readers; none: a new one. */
  view: SavedViewJson | undefined
  asked: AskedJson
  columns: readonly z.output<typeof ColumnLookJson>[]
}>()
const emit = defineEmits<{ kept: [id: string]; close: [] }>()
const { data: audience } = useRead(ReadViewAudience, { params: { list: props.list } })
const { busy, reasons, run } = useAction()
const form = reactive({
  name: props.view?.name ?? '',
  roles: [...(props.view?.roles ?? [])],
  people: [...(props.view?.people ?? [])],
})
async function keep(): Promise<void> {
  const kept = {
    ...form,
    asked: props.view?.asked ?? props.asked,
    columns: [...(props.view?.columns ?? props.columns)],
  }
  const done = await run(() =>
    props.view
      ? api(ChangeView, { params: { id: props.view.id }, body: { ...kept, version: props.view.version } })
      : api(KeepView, { params: { list: props.list }, body: kept }),
  )
  if (done) emit('kept', done.id)
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="view ? `“${view.name}”: name and readers` : 'Keep this as a view'"
    width="460px"
    @close="emit('close')"
    ><p>Its conditions, order, groups and columns are kept. Readers see the rows that they may see anyway.</p>
    <EntryForm :reasons="reasons" @submit="keep">
      <FormField label="Name" place="name"
        ><ElInput v-model="form.name" maxlength="60" data-test="view-name"
      /></FormField>
      <FormField label="Roles that see it" place="roles"
        ><ElSelect
          v-model="form.roles"
          multiple
          filterable
          default-first-option
          placeholder="nobody yet"
          data-test="view-roles"
          ><ElOption v-for="role in audience?.roles" :key="role" :value="role" :label="label('role', role)" /></ElSelect
      ></FormField>
      <FormField label="People who see it" place="people"
        ><ElSelect
          v-model="form.people"
          multiple
          filterable
          default-first-option
          placeholder="nobody yet"
          data-test="view-people"
          ><ElOption v-for="one in audience?.people" :key="one.id" :value="one.id" :label="one.name" /></ElSelect
      ></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy || !form.name.trim()" data-test="view-keep"
          >Keep it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>
