<script setup lang="ts">
import { ref } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { DeliveryFile } from '#contract/receive/despatch.ts'
import { AnswerReports, ReadReports, SaveReport } from '#contract/receive/reports.ts'
import { api, pathOf, upload } from '#web/api.ts'
import WorkReports from '#web/receive/WorkReports.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** Work of an order as those see it who accept it. */
const props = defineProps<{ orderId: string }>()
const emit = defineEmits<{ changed: [] }>()
const { data, reload } = useRead(ReadReports, () => ({ params: { id: props.orderId } }))
const { busy, reasons, run, clear } = useAction()
type Report = ResponseOf<typeof ReadReports>['reports'][number]
const asked = ref<{ reports: readonly Report[]; how: 'accept' | 'refuse' }>()
const quantity = ref('')
function ask(reports: readonly Report[], how: 'accept' | 'refuse'): void {
  clear()
  quantity.value = reports.length === 1 ? reports[0]!.quantity : ''
  asked.value = { reports, how }
}
async function go(reason: string): Promise<void> {
  const { reports, how } = asked.value!
  const body: BodyOf<typeof AnswerReports> = {
    answer: how,
    reason,
    reports: reports.map(one => ({
      id: one.id,
      ...(reports.length === 1 && how === 'accept' ? { quantity: quantity.value } : {}),
    })),
  }
  if (!(await run(() => api(AnswerReports, { body })))) return
  asked.value = undefined
  await changed()
}
async function changed(): Promise<void> {
  await reload()
  emit('changed')
}
const save = (body: BodyOf<typeof SaveReport>) => api(SaveReport, { params: { id: props.orderId }, body })
const send = (file: File) => upload(file)
const fileAt = (fileId: string): string => pathOf(DeliveryFile, { id: props.orderId, fileId })
</script>

<template>
  <WorkReports
    v-if="data?.lines.length"
    :known="data"
    :save="save"
    :send="send"
    :file-at="fileAt"
    @changed="changed"
    @answer="ask"
  />
  <ActDialog
    v-if="asked"
    :open="true"
    :title="asked.how === 'accept' ? 'Accept the work' : 'Refuse the report'"
    :what="
      asked.how === 'accept'
        ? 'It is accepted as far as you say; its bill is paid for as much. For a part say why.'
        : 'The supplier reads your reason and can report it anew.'
    "
    :button="asked.how === 'accept' ? 'Accept it' : 'Refuse it'"
    :optional="asked.how === 'accept'"
    :busy="busy"
    :reasons="reasons"
    @close="asked = undefined"
    @go="go"
    ><FormField v-if="asked.how === 'accept' && asked.reports.length === 1" label="Accepted"
      ><NumberField v-model="quantity" label="Accepted" data-test="accepted" /></FormField
  ></ActDialog>
</template>
