<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { MoveEnd, type ReadEvent } from '#contract/source/events.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import MomentField from '#web/shared/MomentField.vue'
import { useAction } from '#web/shared/useAction.ts'

/** A later end: everybody who is asked is told the same in the same moment. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadEvent>; how: 'extend' | 'beginAgain' }>()
const emit = defineEmits<{ close: []; done: [] }>()
const DAY = 86_400_000
const from = Math.max(Date.parse(props.sheet.body.endsAt ?? props.sheet.serverTime), Date.parse(props.sheet.serverTime))
const endsAt = ref<string | null>(new Date(from + 2 * DAY).toISOString())
const reason = ref('')
const { busy, reasons, run } = useAction()
async function go(): Promise<void> {
  if (endsAt.value === null) return
  const body = { version: props.sheet.version, how: props.how, endsAt: endsAt.value, reason: reason.value }
  if (await run(() => api(MoveEnd, { params: { id: props.sheet.id }, body }))) emit('done')
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="how === 'extend' ? 'Give more time' : 'Begin again'"
    width="520"
    append-to-body
    @close="emit('close')"
  >
    <EntryForm :reasons="reasons" :busy="busy" @submit="go">
      <p>All {{ sheet.invited.filter(one => one.sentAt).length }} who are asked are told in the same moment.</p>
      <FormField label="New end" place="endsAt"
        ><MomentField v-model="endsAt" label="New end" :zone="sheet.body.zone" mark="new-end"
      /></FormField>
      <FormField label="Why" place="reason"
        ><ElInput v-model="reason" type="textarea" :rows="2" data-test="end-reason"
      /></FormField>
      <p class="bar">
        <ElButton
          type="primary"
          native-type="submit"
          :disabled="busy || reason.trim().length < 3"
          data-test="move-end"
          >{{ how === 'extend' ? 'Give more time' : 'Begin again' }}</ElButton><ElButton @click="emit('close')"
          >Leave it</ElButton
        >
      </p>
    </EntryForm>
  </ElDialog>
</template>
