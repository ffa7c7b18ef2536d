<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput } from 'element-plus'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { CreateAgreement } from '#contract/agreements/agreements.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'
import SupplierField from '#web/shared/SupplierField.vue'

/** A new agreement: empty, or with what the supplier offers in the catalogue. */
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const { busy, reasons, run } = useAction()
const supplierId = ref('')
const title = ref('')
const fromOffers = ref(true)
async function go(): Promise<void> {
  const body = { supplierId: supplierId.value, title: title.value.trim(), fromOffers: fromOffers.value }
  const made = await run(() => api(CreateAgreement, { body }))
  if (!made) return
  await router.push(`/source/agreements/${made.id}`)
  emit('close')
}
</script>

<template>
  <ElDialog :model-value="true" title="Agree with a supplier" width="520" append-to-body @close="emit('close')">
    <EntryForm :reasons="reasons" :busy="busy" @submit="go">
      <FormField label="Supplier" place="supplierId"
        ><SupplierField v-model="supplierId" mark="agreement-supplier"
      /></FormField>
      <FormField label="Title" place="title"
        ><ElInput v-model="title" data-test="new-agreement-title" maxlength="200"
      /></FormField>
      <ElCheckbox v-model="fromOffers" label="Begin with what it offers in the catalogue" />
      <template #acts
        ><ElButton
          type="primary"
          native-type="submit"
          :disabled="busy || supplierId === '' || title.trim() === ''"
          data-test="make-agreement"
          >Begin</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>
