<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { reactive, watch } from 'vue'
import { ReadLetterhead, SaveMailSender } from '#contract/setup/letterhead.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { sayInPassing } from '#web/shared/message.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** As whom the house's mails come, and where answers to them go. */
const session = useSession()
const { busy, reasons, run } = useAction()
const { data, reload } = useRead(ReadLetterhead)
const form = reactive({ name: '', replyTo: '' })
watch(data, now => now && Object.assign(form, { name: now.name, replyTo: now.replyTo }), { immediate: true })
async function save(): Promise<void> {
  if (!(await run(() => api(SaveMailSender, { body: { ...form, seen: data.value!.seen } })))) return
  sayInPassing('Kept. The next mail comes so.')
  await reload()
}
</script>

<template>
  <EntryForm v-if="data" :reasons="reasons" :busy="busy" columns class="sender" @submit="save">
    <FormField label="Mails come from" place="name" help="Left empty: our name"
      ><ElInput v-model="form.name" :disabled="!session.may('setup.write')" data-test="sender-name" /></FormField
    ><FormField label="Answers go to" place="replyTo" help="Left empty: the address that they leave from"
      ><ElInput v-model="form.replyTo" :disabled="!session.may('setup.write')" data-test="sender-reply"
    /></FormField>
    <template v-if="session.may('setup.write')" #acts
      ><ElButton native-type="submit" :disabled="busy" data-test="save-sender">Keep it</ElButton></template
    >
  </EntryForm>
</template>

<style scoped>
.sender {
  max-width: 560px;
  margin: 12px 0 18px;
}
</style>
