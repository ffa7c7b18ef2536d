<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { reactive } from 'vue'
import { PublishRules, type RuleSetJson } from '#contract/rules/endpoints.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'

/** From which day a draft of rules holds, and why it was changed. */
const props = defineProps<{ set: RuleSetJson }>()
const emit = defineEmits<{ done: [waits: boolean]; close: [] }>()
const session = useSession()
const { busy, reasons, run } = useAction()
const form = reactive({ fromDay: session.today as string | null, note: '' })
async function publish(): Promise<void> {
  const { id, version } = props.set
  const body = { version, fromDay: form.fromDay ?? session.today, note: form.note }
  const done = await run(() => api(PublishRules, { params: { id }, body }))
  if (done) emit('done', done.waits)
}
</script>

<template>
  <ElDialog :model-value="true" :title="`Put version ${set.number} in force`" width="480px" @close="emit('close')">
    <p>
      It counts for what is submitted from that day on. What waits keeps its way. Rules decide over money: a second
      person agrees.
    </p>
    <EntryForm :reasons="reasons" :busy="busy" @submit="publish">
      <FormField label="From" place="fromDay"
        ><DayField v-model="form.fromDay" label="From" data-test="rules-from"
      /></FormField>
      <FormField label="Why it changes"
        ><ElInput v-model="form.note" type="textarea" :rows="2" maxlength="4000" data-test="rules-note"
      /></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="publish-go">Put it in force</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>
