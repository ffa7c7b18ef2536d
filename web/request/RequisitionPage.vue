<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { Decide, PassStep } from '#contract/decide/endpoints.ts'
import { ActOnRequisition, ReadChoices, ReadRequisition } from '#contract/request/endpoints.ts'
import { api } from '#web/api.ts'
import BudgetBar from '#web/charts/BudgetBar.vue'
import GaugeBar from '#web/charts/GaugeBar.vue'
import SheetFailure from '#web/frame/SheetFailure.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import RequisitionEditor from '#web/request/RequisitionEditor.vue'
import AskDialog from '#web/shared/AskDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, day, label, priceText, quantityText, unit } from '#web/shared/words.ts'

const route = useRoute()
const router = useRouter()
const id = computed(() => String(route.params.id))
const typing = ref(false)
const { sheet, failure, stale, reload } = useSheet(ReadRequisition, id, () => typing.value)
const { busy, reasons, run, clear } = useAction()
const asking = ref('')
const passTo = ref('')
const people = shallowRef<ResponseOf<typeof ReadChoices>['people']>([])
const editable = computed(() => sheet.value?.mine && ['draft', 'returned'].includes(sheet.value.state))
const WHAT: Readonly<Record<string, string>> = {
  return: 'The request goes back to the requester for changes; the budget it holds is free until it comes again.', reject: 'The request ends here; the budget it holds is free again.', withdraw: 'The request comes back to you and the budget it holds is free again.', passOn: 'The step goes to another person who may decide; the reason stays in the history.', approve: 'Your decision is recorded with this reason.',
}

async function act(name: string): Promise<void> {
  clear()
  if (name === 'approve') return void (await decide('approve', ''))
  if (name === 'passOn') people.value = (await api(ReadChoices)).people
  if (['return', 'reject', 'withdraw', 'passOn'].includes(name)) asking.value = name
  else await own(name, '')
}
async function decide(decision: 'approve' | 'return' | 'reject', reason: string): Promise<void> {
  if (await run(() => api(Decide, { params: { id: id.value }, body: { version: sheet.value!.version, decision, reason } }))) asking.value = ''
  await reload()
}
async function own(action: string, reason: string): Promise<void> {
  const done = await run(() => api(ActOnRequisition, { params: { id: id.value }, body: { version: sheet.value!.version, action: action as 'withdraw', reason } }))
  if (!done) return
  asking.value = ''
  if (done.id !== id.value) await router.push(`/request/${done.id}`)
  else await reload()
}
async function go(reason: string): Promise<void> {
  if (asking.value === 'return' || asking.value === 'reject') return decide(asking.value, reason)
  if (asking.value === 'withdraw') return own('withdraw', reason)
  const step = sheet.value!.steps.find(one => one.stalled) ?? sheet.value!.steps.find(one => one.state === 'open')
  if (await run(() => api(PassStep, { params: { id: id.value, stepId: step!.id! }, body: { version: sheet.value!.version, toPersonId: passTo.value, reason } }))) { asking.value = ''; await reload() }
}
</script>

<template>
  <SheetFailure v-if="failure && !sheet" :failure="failure" @again="reload" />
  <RequisitionEditor v-else-if="sheet && editable" :key="id" :sheet="sheet" :stale="stale" @typing="typing = $event" @changed="reload" />
  <SheetFrame v-else-if="sheet" :sheet="sheet" :busy="busy" :stale="stale" @act="act" @changed="reload">
    <template #kind><b>Request {{ sheet.number }}</b> of {{ sheet.requester }}<template v-if="sheet.needBy">, needed by {{ day(sheet.needBy) }}</template></template>
    <template #notice><ReasonList v-if="!asking" :reasons="reasons" /><div class="only-phone ask"><p><b>{{ amountText(sheet.total) }}</b> <span class="unit">{{ sheet.baseCurrency }}</span></p><BudgetBar v-for="figures in sheet.budgets" :key="figures.accountId" :figures="figures" /></div><p v-if="sheet.reason" class="why">“{{ sheet.reason }}”</p></template>
    <table class="lines section"><thead><tr><th class="not-phone" /><th>Line</th><th class="num">Quantity</th><th class="num not-phone">Unit price</th><th class="num">Amount, {{ sheet.baseCurrency }}</th><th class="not-phone">How far it has come</th></tr></thead>
      <tbody><tr v-for="line in sheet.lines" :key="line.id">
        <td class="unit not-phone">{{ line.position }}</td>
        <td>{{ line.description }}<small>{{ [line.itemNumber, line.supplier].filter(Boolean).join(', ') }}</small><small>{{ line.needBy ? `by ${day(line.needBy)}` : '' }}{{ line.address ? `, to ${line.address}` : '' }}</small></td>
        <td class="num"><template v-if="line.kind === 'goods'">{{ quantityText(line.quantity) }} <span class="unit">{{ unit(line.unit) }}</span></template><span v-else class="unit">fixed price</span></td>
        <td class="num not-phone"><template v-if="line.kind === 'goods'">{{ priceText(line.price) }} <span class="unit">{{ line.currency }}{{ line.priceBase === '1' ? '' : ` / ${line.priceBase}` }}</span></template></td>
        <td class="num">{{ amountText(line.baseAmount) }}<small v-if="line.currency !== sheet.baseCurrency">{{ line.currency }} {{ amountText(line.amount) }}</small></td>
        <td class="not-phone"><GaugeBar v-if="['bought', 'done'].includes(line.state)" :gauge="{ ...line.gauge, ordered: line.quantity }" /><span class="quiet">{{ line.state === 'open' ? '' : label('state', line.state) }}<template v-if="line.orderNumber">, <RouterLink v-if="line.orderPath" :to="line.orderPath">{{ line.orderNumber }}</RouterLink><template v-else>{{ line.orderNumber }}</template></template></span></td></tr>
        <tr class="total"><td class="not-phone" /><td>Net</td><td /><td class="not-phone" /><td class="num">{{ amountText(sheet.total) }}</td><td class="not-phone" /></tr></tbody></table>
  </SheetFrame>
  <AskDialog :open="asking !== ''" :title="label('action', asking)" :what="WHAT[asking] ?? ''" :button="label('action', asking)" :busy="busy || (asking === 'passOn' && !passTo)" :reasons="reasons" :optional="asking === 'withdraw'" :danger="asking === 'reject'" @close="asking = ''" @go="go">
    <label v-if="asking === 'passOn'" class="field">To<ElSelect v-model="passTo" filterable data-test="pass-to"><ElOption v-for="person in people" :key="person.id" :value="person.id" :label="person.label" /></ElSelect></label>
  </AskDialog>
</template>

<style scoped>
.ask { margin-top: 12px; } .ask b { font-size: 20px; font-weight: 600; }
.why { margin-top: 10px; font-style: italic; color: var(--ink-quiet); max-width: 620px; }
</style>
