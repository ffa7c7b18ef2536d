<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { reactive } from 'vue'
import { InviteAdministrator } from '#contract/source/endpoints.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'

/** Invites somebody at a supplier to look after its people. */
const props = defineProps<{ supplierId: string; contact: { name: string; email: string } | undefined }>()
const emit = defineEmits<{ close: []; sent: [] }>()
const { busy, reasons, run } = useAction()
const body = reactive({ name: props.contact?.name ?? '', email: props.contact?.email ?? '', check: '' })
async function save(): Promise<void> {
  if (await run(() => api(InviteAdministrator, { params: { id: props.supplierId }, body: { ...body } }))) emit('sent')
}
</script>

<template>
  <ElDialog :model-value="true" title="Somebody at the supplier" width="480px" @close="emit('close')">
    <p>They become the administrator of the supplier’s people and get a mail with a link to choose a password.</p>
    <EntryForm :reasons="reasons" :busy="busy" @submit="save">
      <FormField label="Name" place="name"><ElInput v-model="body.name" data-test="administrator-name" /></FormField>
      <FormField label="Mail address" place="email"
        ><ElInput v-model="body.email" data-test="administrator-mail"
      /></FormField>
      <FormField label="How you made sure that this is right" place="check"
        ><ElInput v-model="body.check" data-test="administrator-check"
      /></FormField>
      <template #acts
        ><ElButton
          type="primary"
          native-type="submit"
          :disabled="busy || !body.name || !body.email || body.check.trim().length < 3"
          data-test="save-administrator"
          >Send the link</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>
