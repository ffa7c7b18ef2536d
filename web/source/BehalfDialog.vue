<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { type ReadEvent, RecordConsent } from '#contract/source/events.ts'
import { api, upload } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FileField from '#web/shared/FileField.vue'
import FormField from '#web/shared/FormField.vue'
import type { Told } from '#web/shared/told.ts'
import ToldFields from '#web/shared/ToldFields.vue'
import { useAction } from '#web/shared/useAction.ts'

/** Nothing is typed on a supplier's behalf before it is on record who asked for it, when and how. */
type Sheet = ResponseOf<typeof ReadEvent>
const props = defineProps<{ sheet: Sheet; invited: Sheet['invited'][number] }>()
const emit = defineEmits<{ close: []; changed: [] }>()
const router = useRouter()
const session = useSession()
const { busy, reasons, run } = useAction()
const told = ref<Told>({ who: props.invited.contactName, on: session.today, how: 'telephone' })
const note = ref('')
const file = ref<{ id: string; name: string }>()
const goOn = (): void =>
  void router.push(
    props.sheet.settings.format === 'auction'
      ? `/source/events/${props.sheet.id}/day?behalf=${props.invited.id}`
      : `/source/events/${props.sheet.id}/behalf/${props.invited.id}`,
  )
async function choose([chosen]: File[]): Promise<void> {
  file.value = await run(() => upload(chosen!))
}
async function go(): Promise<void> {
  const params = { id: props.sheet.id, invitedId: props.invited.id }
  const body = {
    ...told.value,
    on: told.value.on ?? session.today,
    note: note.value,
    fileId: file.value?.id ?? null,
    version: props.sheet.version,
  }
  if (!(await run(() => api(RecordConsent, { params, body })))) return
  emit('changed')
  goOn()
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="`Enter on behalf of ${invited.name}`"
    width="560"
    append-to-body
    @close="emit('close')"
  >
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="go">
      <p class="whole">
        What is typed in is marked everywhere, in the log and to the supplier, who is told at once that we recorded
        this.
      </p>
      <ToldFields v-model="told" who="Who asked us to" />
      <FormField label="What shows it"
        ><FileField :label="file ? file.name : 'Letter or mail'" :busy="busy" @choose="choose"
      /></FormField>
      <FormField label="Note" whole><ElInput v-model="note" type="textarea" :rows="2" /></FormField>
      <p class="bar whole">
        <ElButton type="primary" native-type="submit" :disabled="busy" data-test="record-consent"
          >Record it and go on</ElButton
        ><ElButton v-if="invited.consent" data-test="behalf-on" @click="goOn">It is on record: go on</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>
