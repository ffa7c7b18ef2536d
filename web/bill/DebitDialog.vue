<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { ref, watch } from 'vue'
import { ReadCreditable, WriteDebit } from '#contract/bill/credits.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { api } from '#web/api.ts'
import CreditLines from '#web/bill/CreditLines.vue'
import { type CreditEntry, freshEntry, noteOf } from '#web/bill/creditEntry.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText } from '#web/shared/words.ts'

/** Takes something off a bill by a debit note; `fill` is what a difference comes to. */
const props = defineProps<{
  open: boolean
  id: string
  version: number
  fill: { charges: string; lines: { of: number; way: string; quantity: string; priceOff: string }[] } | null
}>()
const emit = defineEmits<{ close: []; made: [] }>()
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const known = ref<ResponseOf<typeof ReadCreditable>>()
const entry = ref<CreditEntry>()
watch(
  () => props.open,
  async open => {
    clear()
    known.value = entry.value = undefined
    if (!open) return
    known.value = await api(ReadCreditable, { params: { id: props.id } })
    const fresh = freshEntry(known.value.lines, session.today)
    if (props.fill) fresh.charges = props.fill.charges
    for (const { of, way, quantity, priceOff } of props.fill?.lines ?? [])
      fresh.lines[of] = { way: way as 'price', quantity, priceOff }
    entry.value = fresh
  },
)
async function go(): Promise<void> {
  const done = await run(() =>
    api(WriteDebit, { params: { id: props.id }, body: { version: props.version, note: noteOf(entry.value!) } }),
  )
  if (done) emit('made')
}
</script>

<template>
  <ElDialog :model-value="open" title="Take it off by a debit note" width="760px" @close="emit('close')">
    <p>What it takes off is not paid; the rest is. The supplier is told, and sees it beside its invoice.</p>
    <EntryForm v-if="known && entry" :reasons="reasons" :busy="busy" @submit="go">
      <CreditLines v-model="entry" :lines="known.lines" :currency="known.currency" />
      <FormField
        v-if="!/^[0.]+$/.test(known.chargesLeft)"
        :label="`Freight and charges, at most ${amountText(known.chargesLeft)}`"
        place="charges"
        ><NumberField v-model="entry.charges" label="Freight and charges"
      /></FormField>
      <FormField label="Why" place="reason"
        ><ElInput v-model="entry.reason" type="textarea" :rows="2" data-test="debit-reason"
      /></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="make-debit"
          >Make the debit note</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>
