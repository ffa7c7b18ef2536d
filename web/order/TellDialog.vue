<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { type ReadOrder, TellSupplier } from '#contract/order/endpoints.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import type { Told } from '#web/shared/told.ts'
import ToldFields from '#web/shared/ToldFields.vue'
import { useAction } from '#web/shared/useAction.ts'

/** An order that does not leave by mail: who was told of it, when and how. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadOrder> }>()
const emit = defineEmits<{ close: []; changed: [] }>()
const session = useSession()
const { busy, reasons, run } = useAction()
const told = ref<Told>({ who: '', on: session.today, how: 'telephone' })
const note = ref('')
async function go(): Promise<void> {
  const { id, version } = props.sheet
  const body = { version, note: note.value, told: { ...told.value, on: told.value.on ?? session.today } }
  if (!(await run(() => api(TellSupplier, { params: { id }, body })))) return
  emit('changed')
  emit('close')
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="`${sheet.supplier} knows of revision ${sheet.revision}`"
    width="560px"
    append-to-body
    @close="emit('close')"
  >
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="go">
      <p class="whole">Who was told stands in the history. From then on their answer is waited for.</p>
      <ToldFields v-model="told" who="Who was told" />
      <FormField label="Note" whole><ElInput v-model="note" type="textarea" :rows="2" maxlength="4000" /></FormField>
      <p class="bar whole">
        <ElButton type="primary" native-type="submit" :disabled="busy" data-test="supplier-told">Keep it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>
