<script setup lang="ts">
import { computed } from 'vue'
import type { ReadWhatBills } from '#contract/bill/drafts.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import AnswerDays from '#web/order/AnswerDays.vue'
import { aheadSums, chargeSums } from '#web/order/chargeSums.ts'
import DeliveryList from '#web/order/DeliveryList.vue'
import { t } from '#web/shared/language.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import { amountText, day, priceText, quantityText, unit, words } from '#web/shared/words.ts'
import type { LineAnswer } from '#web/order/lineAnswer.ts'
import type { InvoiceEntry, OwnOrder } from '#web/supplier-pages/invoiceEntry.ts'

/** The lines of an order as its supplier sees them: to read, to answer otherwise, or to bill. */
const props = defineProps<{
  order: OwnOrder
  mode: 'read' | 'propose' | 'invoice'
  answers: Record<string, LineAnswer>
  invoice: InvoiceEntry
  /** What of each line can be billed. */
  bills: ReadonlyMap<string, ResponseOf<typeof ReadWhatBills>['lines'][number]>
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
const columns = computed(() =>
  lineColumns({
    '-position': t('Position'),
    what: t('What'),
    '#quantity': t('Quantity'),
    '#price': t('Unit price, {currency}', { currency: props.order.currency }),
    '#last': props.mode === 'propose' ? t('Your date') : t('Amount'),
  }),
)
const sums = computed(() => [
  ...chargeSums(props.order.chargeItems, ['what', 'last']),
  {
    key: 'net',
    cells: { what: t('Net. {terms}', { terms: props.order.terms }), last: amountText(props.order.total) },
    total: true,
  },
  ...aheadSums(props.order.ahead, ['what', 'last']),
])
</script>

<template>
  <LineTable
    class="lines-of-order"
    :rows="order.lines"
    :columns="columns"
    :label="t('Lines')"
    :key-of="line => line.lineId"
    :sums="mode === 'read' ? sums : []"
  >
    <template #position="{ row: line }"
      ><span class="unit">{{ line.position }}</span></template
    >
    <template #what="{ row: line }"
      >{{ line.description }}<small v-if="line.terms">{{ line.terms }}</small
      ><small v-if="line.needBy && line.schedule.length === 0">{{ wanted(line) }}</small
      ><DeliveryList :deliveries="line.schedule" :unit="line.unit" /><small
        v-if="line.place && line.place !== order.address"
        >{{ t('to {place}', { place: line.place }) }}</small
      ><small v-if="Number(line.received) > 0">{{ sofar(line) }}</small
      ><small
        v-if="mode === 'invoice' && bills.get(line.lineId)?.why"
        class="tone-attention"
        :data-test="`why-not-${line.position}`"
        >{{ words(bills.get(line.lineId)?.why) }}</small
      ></template
    >
    <template #quantity="{ row: line }"
      ><NumberField
        v-if="mode === 'propose'"
        v-model="answers[line.lineId]!.quantity"
        :label="t('Quantity')"
        :disabled="Boolean(answers[line.lineId]!.parts)"
        width="100px"
      /><NumberField
        v-else-if="mode === 'invoice'"
        v-model="invoice.quantities[line.lineId]!"
        :label="t('Quantity to invoice')"
        width="100px"
        :data-test="`bill-quantity-${line.position}`"
      /><template v-else
        >{{ quantityText(line.quantity) }} <span class="unit">{{ unit(line.unit) }}</span></template
      ></template
    >
    <template #price="{ row: line }"
      ><NumberField
        v-if="mode === 'propose'"
        v-model="answers[line.lineId]!.price"
        :label="t('Price')"
        width="110px"
        :data-test="`propose-price-${line.position}`"
      /><NumberField
        v-else-if="mode === 'invoice'"
        v-model="invoice.prices[line.lineId]!"
        :label="t('Price')"
        width="110px"
        :data-test="`bill-price-${line.position}`"
      /><template v-else
        >{{ priceText(line.price)
        }}<span v-if="line.priceBase !== '1'" class="unit"> / {{ line.priceBase }}</span></template
      ></template
    >
    <template #last="{ row: line }"
      ><AnswerDays
        v-if="mode === 'propose'"
        v-model="answers[line.lineId]!"
        :label="t('Your date')"
        :unit="line.unit"
        :mark="`propose-${line.position}`"
      /><span v-else-if="mode === 'invoice'" class="quiet">{{
        t('{quantity} open', { quantity: quantityText(bills.get(line.lineId)?.open ?? '0') })
      }}</span
      ><template v-else>{{ amountText(line.amount) }}</template></template
    >
  </LineTable>
  <p v-if="mode === 'read' && order.location" class="quiet">{{ t('Goes to {place}', { place: order.location }) }}</p>
  <p v-if="mode === 'read' && order.address" class="quiet">
    {{ t('Deliver to {address}', { address: order.address }) }}
  </p>
</template>

<style scoped>
.lines-of-order {
  margin-top: 12px;
}
</style>
