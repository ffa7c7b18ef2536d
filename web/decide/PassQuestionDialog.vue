<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import { type DecisionItem, PassQuestion, ReadPassCandidates } from '#contract/decide/endpoints.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** Passes what waits for somebody who cannot decide it to somebody else who may. */
const props = defineProps<{ item: DecisionItem }>()
const emit = defineEmits<{ close: []; done: [] }>()
const params = { id: props.item.consentId, stepId: props.item.id }
const { data } = useRead(ReadPassCandidates, { params })
const { busy, reasons, run } = useAction()
const personId = ref('')
const reason = ref('')
const ready = computed(() => personId.value !== '' && reason.value.trim().length >= 3)
async function go(): Promise<void> {
  if (!ready.value || busy.value) return
  const body = { version: props.item.consentVersion, toPersonId: personId.value, reason: reason.value }
  if (await run(() => api(PassQuestion, { params, body }))) emit('done')
}
</script>

<template>
  <ElDialog :model-value="true" title="Pass the decision on to somebody else" width="480px" @close="emit('close')">
    <p class="quiet what">{{ item.number }} waits for {{ item.waitsFor }}, who is not asked any more then.</p>
    <EntryForm :reasons="reasons" :busy="busy" @submit="go">
      <FormField label="To" place="personId"
        ><ElSelect v-model="personId" filterable default-first-option data-test="pass-to"
          ><ElOption v-for="one in data?.candidates ?? []" :key="one.id" :value="one.id" :label="one.name" /></ElSelect
      ></FormField>
      <FormField label="Reason" place="reason"
        ><ElInput v-model="reason" type="textarea" :rows="2" maxlength="4000" data-test="reason"
      /></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="!ready || busy" data-test="confirm"
          >Pass it on</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.what {
  margin-bottom: 10px;
}
</style>
