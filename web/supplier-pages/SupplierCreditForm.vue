<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { SupplierCredit, type SupplierInvoiceSheet } from '#contract/bill/credits.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { UploadOrderFile } from '#contract/receive/despatch.ts'
import { api, upload } from '#web/api.ts'
import CreditLines from '#web/bill/CreditLines.vue'
import { type CreditEntry, freshEntry, noteOf } from '#web/bill/creditEntry.ts'
import { useSession } from '#web/people/session.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import HungFiles from '#web/shared/HungFiles.vue'
import { t } from '#web/shared/language.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText } from '#web/shared/words.ts'

type Sheet = ResponseOf<typeof SupplierInvoiceSheet>
const props = defineProps<{ invoice: Sheet; draft: Sheet['credits'][number] | null }>()
const emit = defineEmits<{ made: [number: string, sent: boolean]; leave: [] }>()
const session = useSession()
const { busy, reasons, run } = useAction()
const files = ref<{ id: string; name: string }[]>([])

function begun(): CreditEntry {
  const entry = freshEntry(props.invoice.lines, session.today)
  if (!props.draft) return entry
  const { theirs, issueDate, reason, charges, lines } = props.draft
  Object.assign(entry, { number: theirs, issueDate, reason, charges })
  for (const { of, way, quantity, price } of lines)
    entry.lines[of] = { way: way as 'price', quantity, priceOff: way === 'price' ? price : '0' }
  return entry
}
const entry = ref(begun())
/** All that is left, charges included, in one go. */
function all(): void {
  for (const line of props.invoice.lines)
    entry.value.lines[line.of] = { way: 'quantity', quantity: line.leftQuantity, priceOff: '0' }
  entry.value.charges = props.invoice.chargesLeft
}
const hasCharges = computed(() => !/^[0.]+$/.test(props.invoice.chargesLeft))
async function save(send: boolean): Promise<void> {
  const done = await run(() =>
    api(SupplierCredit, {
      params: { id: props.invoice.id },
      body: {
        creditId: props.draft?.id ?? null,
        version: props.draft?.version ?? null,
        send,
        note: noteOf(entry.value),
        fileIds: files.value.map(file => file.id),
      },
    }),
  )
  if (done) emit('made', entry.value.number, send)
}
const sent = (file: File) => upload(file, UploadOrderFile.path)
</script>

<template>
  <EntryForm class="section" :reasons="reasons" :busy="busy" columns @submit="save(true)">
    <div class="wide">
      <CreditLines v-model="entry" :lines="invoice.lines" :currency="invoice.currency" />
      <p>
        <ElButton size="small" data-test="credit-all" @click="all">{{ t('Credit all that is left') }}</ElButton>
      </p>
    </div>
    <FormField
      v-if="hasCharges"
      :label="t('Freight and charges, at most {amount}', { amount: amountText(invoice.chargesLeft) })"
      place="charges"
      ><NumberField v-model="entry.charges" :label="t('Freight and charges')" data-test="credit-charges"
    /></FormField>
    <FormField :label="t('Your number of the credit note')" place="number"
      ><ElInput v-model="entry.number" data-test="credit-number"
    /></FormField>
    <FormField :label="t('Dated')" place="issueDate"
      ><DayField v-model="entry.issueDate" :label="t('Dated')"
    /></FormField>
    <FormField :label="t('Why, if you like')" place="reason"
      ><ElInput v-model="entry.reason" type="textarea" :rows="2" data-test="credit-reason"
    /></FormField>
    <HungFiles v-model="files" :send="sent" :busy="busy" mark="credit-files" />
    <template #acts
      ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="send-credit">{{
        t('Hand the credit note in')
      }}</ElButton
      ><ElButton :disabled="busy" data-test="keep-credit" @click="save(false)">{{ t('Keep it as a draft') }}</ElButton
      ><ElButton @click="emit('leave')">{{ t('Leave it') }}</ElButton></template
    >
  </EntryForm>
</template>

<style scoped>
.wide {
  grid-column: 1 / -1;
}
</style>
