<script setup lang="ts">
import '#contract/messages/billing.ts'
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { ActOnCredit, CreditFile, ReadCredit } from '#contract/bill/credits.ts'
import { api, pathOf } from '#web/api.ts'
import SheetFrame from '#web/frame/SheetFrame.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns, type LineSum } from '#web/shared/lineTable.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, day, label, priceText, quantityText, unit } from '#web/shared/words.ts'

/** A credit note of a supplier, or a debit note of ours: what it takes away from its invoice, and what of it is set off. */
const route = useRoute()
const id = computed(() => String(route.params.id))
const { sheet, failure, stale, reload } = useSheet(ReadCredit, id)
const { busy, reasons, run, clear } = useAction()
const asking = ref<'reject' | 'withdraw' | 'void' | ''>('')
const WHAT = {
  '': '',
  reject: 'It takes nothing off its invoice. The supplier is told why, and can send another.',
  withdraw: 'It takes nothing off its invoice any more.',
  void: 'What it took off is billed and owed again, by counter-entries.',
} as const
const sums = computed((): LineSum[] => {
  const { charges, taxes, gross, currency } = sheet.value!
  const row = (key: string, line: string, net: string): LineSum => ({ key, cells: { line, net } })
  return [
    ...(/^[0.]+$/.test(charges) ? [] : [row('charges', 'Freight and charges', amountText(charges))]),
    ...taxes.map(tax =>
      row(
        tax.category + tax.rate,
        `VAT ${tax.category} ${tax.rate} % on ${amountText(tax.taxable)}`,
        amountText(tax.tax),
      ),
    ),
    { ...row('gross', `Taken off, ${currency}`, amountText(gross)), total: true },
  ]
})
async function act(name: string): Promise<void> {
  clear()
  if (name === 'post') await go('post', '')
  else asking.value = name as 'reject'
}
async function go(action: 'post' | 'reject' | 'withdraw' | 'void', reason: string): Promise<void> {
  const { version } = sheet.value!
  const done = await run(() => api(ActOnCredit, { params: { id: id.value }, body: { version, action, reason } }))
  if (done) asking.value = ''
  await reload()
}
</script>

<template>
  <SheetFailure v-if="failure && !sheet" :failure="failure" @again="reload" />
  <SheetFrame v-else-if="sheet" :sheet="sheet" :busy="busy" :stale="stale" @act="act" @changed="reload">
    <template #kind
      ><b>{{ sheet.issuer === 'house' ? 'Debit note' : 'Credit note' }} {{ sheet.number }}</b
      ><template v-if="sheet.issuer === 'supplier'">, their {{ sheet.supplierNumber }}</template> of
      {{ day(sheet.issueDate) }}, for
      <RouterLink :to="sheet.invoicePath">{{ sheet.invoiceNumber }}</RouterLink></template
    >
    <template #title
      ><h1>
        <RouterLink :to="sheet.supplierPath">{{ sheet.supplier }}</RouterLink>, −{{ amountText(sheet.gross) }}
        <small class="unit">{{ sheet.currency }}</small>
      </h1></template
    >
    <template #acts
      ><ElButton tag="a" :href="pathOf(CreditFile, { id }, { form: 'pdf' })" target="_blank">Print</ElButton
      ><ElButton tag="a" :href="pathOf(CreditFile, { id }, { form: 'ubl' })">UBL</ElButton
      ><ElButton tag="a" :href="pathOf(CreditFile, { id }, { form: 'cii' })">CII</ElButton></template
    >
    <template #notice><ReasonList v-if="!asking" :reasons="reasons" /></template>
    <p v-if="sheet.reason" class="section">“{{ sheet.reason }}”</p>
    <LineTable
      class="section"
      :rows="sheet.lines"
      :columns="
        lineColumns({
          '-of': 'Line',
          line: 'What',
          way: 'How',
          '#quantity': 'Quantity',
          '#price': 'Price',
          '#net': `Taken off, ${sheet.currency}`,
        })
      "
      label="Lines"
      :key-of="line => String(line.position)"
      :sums="sums"
      ><template #of="{ row: line }"
        ><span class="unit">{{ line.of }}</span></template
      >
      <template #line="{ row: line }"
        >{{ line.description }}<small>tax {{ line.tax }}</small></template
      >
      <template #way="{ row: line }">{{ line.way === 'price' ? 'each costs less' : 'not billed' }}</template>
      <template #quantity="{ row: line }"
        >{{ line.way === 'price' ? 'on ' : '−' }}{{ quantityText(line.quantity) }}
        <span class="unit">{{ unit(line.unit) }}</span></template
      >
      <template #price="{ row: line }"
        >{{ line.way === 'price' ? '−' : '' }}{{ priceText(line.price)
        }}<span v-if="line.priceBase !== '1'" class="unit"> / {{ line.priceBase }}</span></template
      >
      <template #net="{ row: line }">{{ amountText(line.net) }}</template>
    </LineTable>
    <template #margin
      ><section v-if="sheet.state === 'posted'">
        <h3>Set off</h3>
        <p v-if="sheet.setOffs.length === 0" class="quiet">Nothing yet: it is set off at the next payment.</p>
        <p v-for="one in sheet.setOffs" :key="one.path">
          <RouterLink :to="one.path">{{ one.number }}</RouterLink>, {{ sheet.currency }} {{ amountText(one.amount) }}
        </p>
      </section></template
    >
  </SheetFrame>
  <ActDialog
    :open="asking !== ''"
    :title="asking ? label('action', asking) : ''"
    :what="WHAT[asking]"
    :button="asking ? label('action', asking) : ''"
    :optional="asking === 'withdraw'"
    :busy="busy"
    :reasons="reasons"
    :danger="asking !== 'withdraw'"
    @close="asking = ''"
    @go="reason => asking && go(asking, reason)"
  />
</template>

<style scoped>
h1 small {
  font: 14px var(--sans);
}
h1 a {
  color: inherit;
}
</style>
