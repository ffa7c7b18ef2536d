<script setup lang="ts">
import '#web/theme/later.scss'
import { ElButton, ElCheckbox, ElCheckboxGroup, ElDialog } from 'element-plus'
import { computed, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { InviteSuppliers, ProposedSuppliers, type ReadEvent } from '#contract/source/events.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { proposalText } from '#web/source/proposalText.ts'
import SupplierField from '#web/shared/SupplierField.vue'

/** Suppliers who could be asked, each with the reasons; anybody else by name. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadEvent> }>()
const emit = defineEmits<{ close: []; done: [] }>()
const { data } = useRead(ProposedSuppliers, () => ({ params: { id: props.sheet.id } }))
const { busy, reasons, run } = useAction()
const chosen = ref<string[]>([])
const other = ref('')
const asked = computed(() => new Set(props.sheet.invited.map(one => one.supplierId)))
const proposals = computed(() => data.value?.proposals.filter(one => !asked.value.has(one.supplierId)) ?? [])
async function go(): Promise<void> {
  const supplierIds = [...chosen.value, ...(other.value ? [other.value] : [])]
  if (supplierIds.length === 0) return
  const body = { version: props.sheet.version, supplierIds }
  if (await run(() => api(InviteSuppliers, { params: { id: props.sheet.id }, body }))) emit('done')
}
</script>

<template>
  <ElDialog :model-value="true" title="Who is asked" width="640" append-to-body @close="emit('close')">
    <EntryForm :reasons="reasons" :busy="busy" @submit="go">
      <p v-if="sheet.state === 'asking'">Whoever is asked now gets the same mail as the others did.</p>
      <ElCheckboxGroup v-model="chosen" class="proposals">
        <ElCheckbox
          v-for="one in proposals"
          :key="one.supplierId"
          :value="one.supplierId"
          :data-test="`propose-${one.name}`"
          ><b>{{ one.name }}</b> <span class="quiet">{{ one.reasons.map(proposalText).join('; ') }}</span></ElCheckbox
        >
      </ElCheckboxGroup>
      <p v-if="data && !proposals.length" class="empty">
        Nobody else is known by category, items or past orders. Choose by name.
      </p>
      <FormField label="Somebody else"><SupplierField v-model="other" mark="other-supplier" /></FormField>
      <p class="bar">
        <ElButton
          type="primary"
          native-type="submit"
          :disabled="busy || (chosen.length === 0 && other === '')"
          data-test="ask-them"
          >{{ sheet.state === 'asking' ? 'Ask them now' : 'Put them on the list' }}</ElButton><ElButton
          @click="emit('close')"
          >Leave it</ElButton
        >
      </p>
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.proposals {
  display: flex;
  flex-direction: column;
  max-height: 46vh;
  overflow: auto;
}
.proposals :deep(.el-checkbox) {
  height: auto;
  padding: 4px 0;
  align-items: baseline;
  white-space: normal;
}
</style>
