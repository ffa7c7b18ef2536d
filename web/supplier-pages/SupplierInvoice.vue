<script setup lang="ts">
import '#contract/messages/billing.ts'
import { ElButton } from 'element-plus'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import {
  SupplierCreditFile,
  SupplierInvoiceDocument,
  SupplierInvoiceSheet,
  WithdrawSupplierCredit,
} from '#contract/bill/credits.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { api, pathOf } from '#web/api.ts'
import DisputeTalk from '#web/bill/DisputeTalk.vue'
import { documentTopic, useNews } from '#web/news/news.ts'
import { t } from '#web/shared/language.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, day, priceText, quantityText, unit, words } from '#web/shared/words.ts'
import { creditState, invoiceState } from '#web/supplier-pages/ownOrderWords.ts'
import SupplierCreditForm from '#web/supplier-pages/SupplierCreditForm.vue'
import SupplierFrame from '#web/supplier-pages/SupplierFrame.vue'

type Sheet = ResponseOf<typeof SupplierInvoiceSheet>
/** One of a supplier's invoices: why it stands where it stands, when the money comes, and its credit notes. */
const route = useRoute()
const id = computed(() => String(route.params.id))
const sheet = shallowRef<Sheet>()
const failure = shallowRef<unknown>()
const writing = shallowRef<Sheet['credits'][number] | 'new'>()
const said = ref('')
const { busy, reasons, run } = useAction()
async function load(): Promise<void> {
  try {
    sheet.value = await api(SupplierInvoiceSheet, { params: { id: id.value } })
    failure.value = undefined
  } catch (error) {
    failure.value = error
  }
}
watch(id, load, { immediate: true })
useNews(
  () => [documentTopic(id.value)],
  () => {
    if (!writing.value) void load()
  },
)
async function made(number: string, sent: boolean): Promise<void> {
  writing.value = undefined
  said.value = sent ? t('Credit note {number} was handed in.', { number }) : t('The draft is kept.')
  await load()
}
async function takeBack(credit: Sheet['credits'][number]): Promise<void> {
  await run(() =>
    api(WithdrawSupplierCredit, { params: { id: credit.id }, body: { version: credit.version, reason: '' } }),
  )
  await load()
}
const paid = computed(() => {
  const { payDay, state, setOff, currency } = sheet.value!
  const off = /^[0.]+$/.test(setOff)
    ? ''
    : t('{currency} {amount} of it are set off by credits.', { currency, amount: amountText(setOff) })
  const money =
    payDay === null
      ? ''
      : state === 'paid'
        ? t('Paid on {day}.', { day: day(payDay) })
        : t('We expect to pay it on {day}.', { day: day(payDay) })
  return [money, off].filter(Boolean).join(' ')
})
</script>

<template>
  <SupplierFrame>
    <SheetFailure v-if="failure" :failure="failure" @again="load" />
    <article v-else-if="sheet" class="own">
      <p class="quiet">
        <RouterLink to="/supplier/invoices">{{ t('Your invoices') }}</RouterLink> /
        {{
          [
            t('Invoice {number} of {day}', { number: sheet.number, day: day(sheet.issueDate) }),
            sheet.order ? t('Order {number}', { number: sheet.order }) : '',
          ]
            .filter(Boolean)
            .join(', ')
        }}
      </p>
      <h1>
        {{ amountText(sheet.gross) }} <small class="unit">{{ sheet.currency }}</small>
      </h1>
      <p class="state" data-test="invoice-state">
        <b>{{ invoiceState(sheet.state) }}</b>. {{ paid }}
      </p>
      <p v-if="sheet.madeHere" class="bar">
        <a :href="pathOf(SupplierInvoiceDocument, { id: sheet.id }, { form: 'pdf' })" target="_blank">{{
          t('Print')
        }}</a><a :href="pathOf(SupplierInvoiceDocument, { id: sheet.id }, { form: 'ubl' })">UBL</a
        ><a :href="pathOf(SupplierInvoiceDocument, { id: sheet.id }, { form: 'cii' })">CII</a>
      </p>
      <ul v-if="sheet.waits.length" class="waits" data-test="waits">
        <li v-for="(wait, index) in sheet.waits" :key="index">{{ words(wait) }}</li>
      </ul>
      <p v-if="said" class="tone-settled" role="status" data-test="credit-said">{{ said }}</p>
      <ReasonList :reasons="reasons" />
      <p v-if="!writing && sheet.mayCredit" class="bar acts">
        <ElButton type="primary" data-test="write-credit" @click="writing = 'new'">{{
          t('Write a credit note')
        }}</ElButton>
      </p>
      <SupplierCreditForm
        v-if="writing"
        :invoice="sheet"
        :draft="writing === 'new' ? null : writing"
        @made="made"
        @leave="writing = undefined"
      />
      <LineTable
        v-else
        class="section"
        :rows="sheet.lines"
        :columns="lineColumns({ line: t('What'), '#quantity': t('Quantity'), '#price': t('Price'), '#net': t('Net') })"
        :label="t('Lines')"
        :key-of="line => String(line.of)"
        ><template #line="{ row: line }">{{ line.of }}. {{ line.description }}</template>
        <template #quantity="{ row: line }">{{ quantityText(line.quantity) }} {{ unit(line.unit) }}</template>
        <template #price="{ row: line }"
          >{{ priceText(line.price)
          }}<template v-if="line.priceBase !== '1'"> / {{ line.priceBase }}</template></template
        >
        <template #net="{ row: line }">{{ amountText(line.net) }}</template></LineTable
      >
      <DisputeTalk
        v-if="!writing"
        :invoice-id="sheet.id"
        :version="sheet.version"
        :disputes="sheet.disputes"
        side="supplier"
        @changed="load"
      />
      <section v-for="credit in sheet.credits" :key="credit.id" class="section credit" data-test="credit">
        <h2>
          {{
            credit.issuer === 'house'
              ? t('Debit note {number}', { number: credit.number })
              : t('Credit note {number}', { number: credit.theirs || t('without a number') })
          }}, −{{ amountText(credit.gross) }} {{ sheet.currency }}
        </h2>
        <p>
          <b>{{ creditState(credit.state) }}</b>, {{ day(credit.issueDate)
          }}<template v-if="credit.reason">: “{{ credit.reason }}”</template>
        </p>
        <ul>
          <li v-for="line in credit.lines" :key="line.position">
            {{
              line.way === 'price'
                ? t('{description}: {quantity} {unit} cheaper by {price} each', {
                    description: line.description,
                    quantity: quantityText(line.quantity),
                    unit: unit(line.unit),
                    price: priceText(line.price),
                  })
                : t('{description}: {quantity} {unit} less', {
                    description: line.description,
                    quantity: quantityText(line.quantity),
                    unit: unit(line.unit),
                  })
            }}, −{{ amountText(line.net) }}
          </li>
          <li v-if="!/^[0.]+$/.test(credit.charges)">
            {{ t('Freight and charges') }}, −{{ amountText(credit.charges) }}
          </li>
        </ul>
        <p class="bar">
          <ElButton v-if="credit.mayWrite" size="small" data-test="go-on" @click="writing = credit">{{
            t('Go on writing')
          }}</ElButton><template v-if="credit.state !== 'draft'"
            ><a :href="pathOf(SupplierCreditFile, { id: credit.id }, { form: 'pdf' })" target="_blank">{{
              t('Print')
            }}</a
            ><a :href="pathOf(SupplierCreditFile, { id: credit.id }, { form: 'ubl' })">UBL</a
            ><a :href="pathOf(SupplierCreditFile, { id: credit.id }, { form: 'cii' })">CII</a></template
          ><ElButton v-if="credit.mayWithdraw" size="small" :disabled="busy" @click="takeBack(credit)">{{
            t('Take it back')
          }}</ElButton>
        </p>
      </section>
    </article>
  </SupplierFrame>
</template>

<style scoped>
.own {
  background: var(--sheet);
  border: 1px solid var(--rule);
  padding: 22px 26px 30px;
}
.waits {
  border-left: 3px solid var(--madder);
  padding: 4px 12px;
  margin: 10px 0;
  list-style: none;
}
.waits li + li {
  margin-top: 6px;
}
.acts {
  margin: 14px 0;
}
.credit ul {
  list-style: none;
  padding: 0;
}
h1 small {
  font: 14px var(--sans);
}
@media (max-width: 700px) {
  .own {
    padding: 16px 12px;
    overflow-x: auto;
  }
}
</style>
