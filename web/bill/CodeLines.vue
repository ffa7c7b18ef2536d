<script setup lang="ts">
import '#contract/messages/billing.ts'
import { ElButton, ElInput } from 'element-plus'
import { ref, watch } from 'vue'
import { CodeInvoice, ReadCoding } from '#contract/bill/coding.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import type { Split, SplitBy } from '#core/request/splits.ts'
import { api } from '#web/api.ts'
import SplitGrid from '#web/request/SplitGrid.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText } from '#web/shared/words.ts'

/** Who pays for what was billed without an order: proposed from what the supplier billed before, split as anywhere. */
const props = defineProps<{ invoiceId: string; version: number; currency: string }>()
const emit = defineEmits<{ coded: []; leave: [] }>()
const { data } = useRead(ReadCoding, () => ({ params: { id: props.invoiceId } }))
const choices = useRead(ReadChoices)
const { busy, reasons, run } = useAction()
const splits = ref<Split[][]>([])
const by = ref<SplitBy[]>([])
const reason = ref('')
watch(data, now => {
  splits.value = now?.lines.map(line => line.splits) ?? []
  by.value = now?.lines.map(() => 'share' as const) ?? []
})
async function code(): Promise<void> {
  const lines = data.value!.lines.map(({ lineId }, at) => ({
    lineId,
    splits: [...splits.value[at]!].map(split => ({ ...split })),
  }))
  const params = { id: props.invoiceId }
  if (await run(() => api(CodeInvoice, { params, body: { version: props.version, reason: reason.value, lines } })))
    emit('coded')
}
</script>

<template>
  <section class="section" data-test="coding">
    <h2>Nobody ordered it: who pays?</h2>
    <p class="quiet">
      Its order is written afterwards. Those whom the rules name, else the holders of the cost centres, are asked; once
      they said yes the lines agree.
    </p>
    <EntryForm v-if="data" :reasons="reasons" :busy="busy" @submit="code">
      <FormField
        v-for="(line, at) in data.lines"
        :key="line.lineId"
        :label="`${line.position}. ${line.description}, ${currency} ${amountText(line.net)}`"
        :place="`lines.${line.position}.splits`"
        :help="laterLabel('coding', line.because)"
        ><SplitGrid
          v-if="splits[at]"
          v-model:splits="splits[at]"
          v-model:by="by[at]!"
          :accounts="choices.data.value?.accounts ?? []"
          :proposals="[]"
          :whole="{ amount: line.net, quantity: line.quantity }"
          :index="at"
      /></FormField>
      <FormField label="What it is, for those who decide" place="reason"
        ><ElInput v-model="reason" maxlength="400" data-test="coding-reason"
      /></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="code">Ask those who pay</ElButton
        ><ElButton @click="emit('leave')">Leave it</ElButton></template
      >
    </EntryForm>
  </section>
</template>
