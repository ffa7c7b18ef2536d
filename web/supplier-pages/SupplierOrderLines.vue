<script setup lang="ts">
import DayField from '#web/shared/DayField.vue'
import { t } from '#web/shared/language.ts'
import NumberField from '#web/shared/NumberField.vue'
import { amountText, day, priceText, quantityText, unit } from '#web/shared/words.ts'
import type { InvoiceEntry, LineAnswer, OwnOrder } from '#web/supplier-pages/invoiceEntry.ts'

/** The lines of an order as its supplier sees them: to read, to answer otherwise, or to bill. */
defineProps<{
  order: OwnOrder
  mode: 'read' | 'propose' | 'invoice'
  answers: Record<string, LineAnswer>
  invoice: InvoiceEntry
}>()
type Line = OwnOrder['lines'][number]
const wanted = (line: Line): string =>
  line.promisedDate
    ? t('needed by {day}, you promised {promised}', { day: day(line.needBy), promised: day(line.promisedDate) })
    : t('needed by {day}', { day: day(line.needBy) })
const sofar = (line: Line): string =>
  t('{received} {unit} taken in, {billed} invoiced', {
    received: quantityText(line.received),
    unit: unit(line.unit),
    billed: quantityText(line.billed),
  })
</script>

<template>
  <table class="lines">
    <thead>
      <tr>
        <th />
        <th>{{ t('What') }}</th>
        <th class="num">{{ t('Quantity') }}</th>
        <th class="num">{{ t('Unit price, {currency}', { currency: order.currency }) }}</th>
        <th class="num">{{ mode === 'propose' ? t('Your date') : t('Amount') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="line in order.lines" :key="line.lineId">
        <td class="unit">{{ line.position }}</td>
        <td>
          {{ line.description }}<small v-if="line.terms">{{ line.terms }}</small
          ><small v-if="line.needBy">{{ wanted(line) }}</small
          ><small v-if="Number(line.received) > 0">{{ sofar(line) }}</small>
        </td>
        <template v-if="mode === 'propose'"
          ><td><NumberField v-model="answers[line.lineId]!.quantity" :label="t('Quantity')" width="100px" /></td>
          <td>
            <NumberField
              v-model="answers[line.lineId]!.price"
              :label="t('Price')"
              width="110px"
              :data-test="`propose-price-${line.position}`"
            />
          </td>
          <td>
            <DayField v-model="answers[line.lineId]!.date" :label="t('Your date')" style="width: 140px" /></td
        ></template>
        <template v-else-if="mode === 'invoice'"
          ><td>
            <NumberField
              v-model="invoice.quantities[line.lineId]!"
              :label="t('Quantity to invoice')"
              width="100px"
              :data-test="`bill-quantity-${line.position}`"
            />
          </td>
          <td>
            <NumberField
              v-model="invoice.prices[line.lineId]!"
              :label="t('Price')"
              width="110px"
              :data-test="`bill-price-${line.position}`"
            />
          </td>
          <td class="num quiet">{{ t('{quantity} open', { quantity: quantityText(line.openToBill) }) }}</td></template
        >
        <template v-else
          ><td class="num">
            {{ quantityText(line.quantity) }} <span class="unit">{{ unit(line.unit) }}</span>
          </td>
          <td class="num">
            {{ priceText(line.price) }}<span v-if="line.priceBase !== '1'" class="unit"> / {{ line.priceBase }}</span>
          </td>
          <td class="num">{{ amountText(line.amount) }}</td></template
        >
      </tr>
      <template v-if="mode === 'read'">
        <tr v-if="Number(order.charges) > 0">
          <td />
          <td colspan="3">{{ t('Freight and charges') }}</td>
          <td class="num">{{ amountText(order.charges) }}</td>
        </tr>
        <tr class="total">
          <td />
          <td colspan="3">
            {{ t('Net. {terms}', { terms: order.terms })
            }}<small>{{ order.address ? t('Deliver to {address}', { address: order.address }) : '' }}</small>
          </td>
          <td class="num">{{ amountText(order.total) }}</td>
        </tr>
      </template>
    </tbody>
  </table>
</template>

<style scoped>
table {
  margin-top: 12px;
}
</style>
