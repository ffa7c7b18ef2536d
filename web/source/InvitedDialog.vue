<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { reactive } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ChangeInvited, type ReadEvent } from '#contract/source/events.ts'
import { api } from '#web/api.ts'
import CurrencyField from '#web/shared/CurrencyField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'

/** Whom we write to at a supplier, in which language and currency; and what only we see. */
type Sheet = ResponseOf<typeof ReadEvent>
const props = defineProps<{ sheet: Sheet; invited: Sheet['invited'][number] }>()
const emit = defineEmits<{ close: []; done: [] }>()
const { busy, reasons, run } = useAction()
const { contactName, email, language, currency, ownNote, toDo } = props.invited
const body = reactive({ contactName, email, language: language as 'en' | 'de', currency, ownNote, toDo })
async function go(): Promise<void> {
  const params = { id: props.sheet.id, invitedId: props.invited.id }
  if (await run(() => api(ChangeInvited, { params, body: { ...body, version: props.sheet.version } }))) emit('done')
}
</script>

<template>
  <ElDialog :model-value="true" :title="invited.name" width="560" append-to-body @close="emit('close')">
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="go">
      <FormField label="Written to" place="contactName"><ElInput v-model="body.contactName" /></FormField>
      <FormField label="Mail address" place="email"
        ><ElInput v-model="body.email" data-test="invited-mail"
      /></FormField>
      <FormField label="Language"
        ><ElSelect v-model="body.language" aria-label="Language"
          ><ElOption value="en" label="English" /><ElOption value="de" label="German" /></ElSelect
      ></FormField>
      <FormField label="Prices in" place="currency"><CurrencyField v-model="body.currency" /></FormField>
      <FormField label="Our own note" help="Only we see it." whole
        ><ElInput v-model="body.ownNote" type="textarea" :rows="2"
      /></FormField>
      <FormField label="To do" whole><ElInput v-model="body.toDo" /></FormField>
      <p class="bar">
        <ElButton type="primary" native-type="submit" :disabled="busy">Keep it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>
