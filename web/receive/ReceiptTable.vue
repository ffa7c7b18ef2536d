<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { AnswerReceipt, type ReadDelivery, ReverseReceipt } from '#contract/receive/endpoints.ts'
import { api } from '#web/api.ts'
import { sumLeft } from '#web/receive/receiptWords.ts'
import TakeBackDialog from '#web/receive/TakeBackDialog.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { useAction } from '#web/shared/useAction.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { day, label, quantityText, since, unit } from '#web/shared/words.ts'

/** The receipts of an order: what was counted when and by whom, how it came, and what of it was taken back. */
type Receipt = ResponseOf<typeof ReadDelivery>['receipts'][number]
defineProps<{ receipts: readonly Receipt[] }>()
const emit = defineEmits<{ changed: [] }>()
const { busy, reasons, run, clear } = useAction()
const takes = ref<Receipt>()
const answers = ref<{ receipt: Receipt; answer: 'approve' | 'reject' | 'withdraw' }>()
const said = ref('')
const ANSWERS = {
  approve: {
    title: 'It may be kept',
    what: 'The count counts as of the day on which it was made.',
    button: 'Yes, keep it',
  },
  reject: { title: 'It is not kept', what: 'The count never counts. Whoever made it is told why.', button: 'No' },
  withdraw: { title: 'Take the count back', what: 'Nobody has to decide about it any more.', button: 'Take it back' },
}

async function reverse(body: {
  reason: string
  parts: { partId: string; quantity: string; pieces: string[] }[]
}): Promise<void> {
  const done = await run(() => api(ReverseReceipt, { params: { id: takes.value!.id }, body }))
  if (!done) return
  said.value =
    done.unproven > 0 ? 'It is billed already: the bill is matched anew and waits, or says that its proof is gone.' : ''
  takes.value = undefined
  emit('changed')
}
async function answer(reason: string): Promise<void> {
  const { receipt, answer: given } = answers.value!
  if (!(await run(() => api(AnswerReceipt, { params: { id: receipt.id }, body: { answer: given, reason } })))) return
  answers.value = undefined
  emit('changed')
}
const open = (receipt: Receipt, given: 'approve' | 'reject' | 'withdraw'): void => {
  clear()
  answers.value = { receipt, answer: given }
}
</script>

<template>
  <section class="section" data-test="receipts">
    <h2>Receipts</h2>
    <p v-if="said" class="tone-attention" role="status">{{ said }}</p>
    <LineTable
      :rows="receipts"
      :columns="lineColumns({ number: 'Receipt', when: 'When', what: 'What', acts: '' })"
      label="Receipts"
      bare
      :key-of="one => one.id"
      ><template #number="{ row: one }"
        ><b>{{ one.number }}</b
        ><small :class="{ 'tone-attention': one.state !== 'posted' }">{{ label('state', one.state) }}</small></template
      >
      <template #when="{ row: one }"
        >{{ day(one.receivedOn) }} at {{ one.place
        }}<small
          >{{ one.by }}, {{ since(one.at) }}, {{ laterLabel('receiptSource', one.source)
          }}{{ one.note ? `: “${one.note}”` : '' }}{{ one.reason ? `. Kept because: “${one.reason}”` : '' }}</small
        ></template
      >
      <template #what="{ row: one }"
        ><div v-for="part in one.parts" :key="part.id">
          line {{ part.position }}: {{ quantityText(part.quantity) }} {{ unit(part.unit)
          }}<template v-if="part.enteredUnit !== part.unit">
            ({{ quantityText(part.enteredQuantity) }} {{ unit(part.enteredUnit) }})</template
          ><small>{{
            [
              part.condition === 'damaged' ? 'damaged' : '',
              part.batch && `batch ${part.batch}`,
              part.bestBefore && `best before ${day(part.bestBefore)}`,
              part.bin && `bin ${part.bin}`,
              part.serials.length > 3
                ? `${part.serials.length} serial numbers, ${part.serials[0]} …`
                : part.serials.join(', '),
              part.note && `“${part.note}”`,
              part.reversed !== '0' ? `${quantityText(part.reversed)} taken back` : '',
              part.returned !== '0' ? `${quantityText(part.returned)} went back` : '',
            ]
              .filter(Boolean)
              .join(' · ')
          }}</small
          ><RouterLink v-if="part.inspection" :to="`/receive/inspections/${part.inspection.id}`" data-test="inspection"
            >Inspection {{ part.inspection.number }}, {{ label('state', part.inspection.state) }}</RouterLink
          >
        </div></template
      >
      <template #acts="{ row: one }"
        ><template v-if="one.mayAnswer"
          ><ElButton link :data-test="`agree-${one.number}`" @click="open(one, 'approve')">Keep it</ElButton
          ><ElButton link :data-test="`refuse-${one.number}`" @click="open(one, 'reject')">Not kept</ElButton></template
        ><ElButton v-if="one.mayWithdraw" link @click="open(one, 'withdraw')">Take the count back</ElButton
        ><ElButton
          v-if="one.mayReverse && sumLeft(one.parts) > 0"
          link
          :data-test="`reverse-${one.number}`"
          @click="
            () => {
              clear()
              takes = one
            }
          "
        >
          Take back
        </ElButton></template
      ></LineTable
    >
    <TakeBackDialog
      v-if="takes"
      :receipt="takes"
      :busy="busy"
      :reasons="reasons"
      @close="takes = undefined"
      @go="reverse"
    />
    <ActDialog
      v-if="answers"
      :open="true"
      v-bind="ANSWERS[answers.answer]"
      :optional="answers.answer !== 'reject'"
      :busy="busy"
      :reasons="reasons"
      @close="answers = undefined"
      @go="answer"
    />
  </section>
</template>
