<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { reactive } from 'vue'
import { SetBankAccount } from '#contract/source/endpoints.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'

/** Another account for a supplier; it is paid to once a second person has checked it. */
const props = defineProps<{ supplierId: string; name: string; version: number }>()
const emit = defineEmits<{ close: []; kept: [] }>()
const { busy, reasons, run } = useAction()
const account = reactive({ iban: '', bic: '', holder: props.name })
async function save(): Promise<void> {
  const body = { ...account, version: props.version, bic: account.bic.toUpperCase() }
  if (await run(() => api(SetBankAccount, { params: { id: props.supplierId }, body }))) emit('kept')
}
</script>

<template>
  <ElDialog :model-value="true" title="Another account" width="480px" @close="emit('close')">
    <p>The account waits until a second person has checked it with the supplier. Their contacts are told by mail.</p>
    <EntryForm :reasons="reasons" :busy="busy" @submit="save">
      <FormField label="IBAN" place="iban"><ElInput v-model="account.iban" data-test="iban" /></FormField>
      <FormField label="BIC, if known" place="bic"><ElInput v-model="account.bic" maxlength="11" /></FormField>
      <FormField label="Holder" place="holder"><ElInput v-model="account.holder" /></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy || !account.iban" data-test="save-account"
          >Set the account</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>
