<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { DropReason, KeepReason, ReadKeptReasons } from '#contract/decide/endpoints.ts'
import type { ReasonJson } from '#contract/fields.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useRead } from '#web/shared/useRead.ts'
import { label } from '#web/shared/words.ts'

/** Takes the words for a decision or a question: written, or one of those kept from another time. */
export type Wanted = 'approve' | 'return' | 'reject' | 'ask'
const props = defineProps<{ wanted: Wanted; about: string; busy: boolean; reasons: readonly ReasonJson[] }>()
const emit = defineEmits<{ close: []; go: [text: string] }>()
const { data, reload } = useRead(ReadKeptReasons)
const text = ref('')
const keep = ref(false)
const WHAT: Readonly<Record<Wanted, string>> = {
  approve: 'Your decision is recorded with these words.',
  return: 'The request goes back for changes; the budget it holds is free until it comes again.',
  reject: 'The request ends here; the budget it holds is free again.',
  ask: 'The requester is written to at once. The time for your decision stands still until the answer, which comes back to you.',
}
const ready = computed(() => props.wanted === 'approve' || text.value.trim().length >= 3)
async function drop(reason: string): Promise<void> {
  await api(DropReason, { body: { reason } })
  await reload()
}
async function go(): Promise<void> {
  if (!ready.value || props.busy) return
  if (keep.value && text.value.trim().length >= 3) void api(KeepReason, { body: { reason: text.value.slice(0, 500) } })
  emit('go', text.value)
}
</script>

<template>
  <ElDialog :model-value="true" :title="`${label('action', wanted)}: ${about}`" width="520px" @close="emit('close')">
    <p class="what">{{ WHAT[wanted] }}</p>
    <EntryForm :reasons="reasons" :busy="busy" @submit="go">
      <FormField
        :label="wanted === 'ask' ? 'Question' : wanted === 'approve' ? 'Words, if you like' : 'Reason'"
        place="reason"
        ><ElInput v-model="text" type="textarea" :rows="3" maxlength="4000" data-test="reason" autofocus
      /></FormField>
      <ul v-if="data?.reasons.length" class="kept" aria-label="Kept from other times">
        <li v-for="one in data.reasons" :key="one">
          <ElButton link type="primary" data-test="kept-reason" @click="text = one">{{ one }}</ElButton><ElButton
            link
            class="quiet"
            :aria-label="`Forget: ${one}`"
            @click="drop(one)"
            >forget</ElButton
          >
        </li>
      </ul>
      <ElCheckbox v-model="keep" label="Keep these words for another time" data-test="keep-reason" />
      <template #acts
        ><ElButton
          :type="wanted === 'reject' ? 'danger' : 'primary'"
          native-type="submit"
          :disabled="!ready || busy"
          data-test="confirm"
          >{{ label('action', wanted) }}</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.what {
  margin-bottom: 12px;
}
.kept {
  max-height: 150px;
  overflow: auto;
  list-style: none;
  padding: 0;
  margin: 0 0 8px;
}
.kept li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
}
.kept :deep(.el-button:first-child) {
  white-space: normal;
  text-align: left;
  justify-content: flex-start;
}
</style>
