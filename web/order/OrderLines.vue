<script setup lang="ts">
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadOrder } from '#contract/order/endpoints.ts'
import GaugeBar from '#web/charts/GaugeBar.vue'
import { aheadSums, chargeSums } from '#web/order/chargeSums.ts'
import DeliveryList from '#web/order/DeliveryList.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import LineTable from '#web/shared/LineTable.vue'
import { amountText, day, priceText, quantityText, unit } from '#web/shared/words.ts'

/** The lines of an order, how far each has come, and what they come to. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadOrder> }>()
const COLUMNS = lineColumns({
  position: '',
  line: 'Line',
  '#quantity': 'Quantity',
  '#price': 'Unit price',
  '#amount': `Amount, ${props.sheet.currency}`,
  gauge: 'How far it has come',
})
const accountOf = (id: string): string => props.sheet.chargeAccounts.find(one => one.id === id)?.label ?? ''
const sums = computed(() => [
  ...chargeSums(props.sheet.charges, ['line', 'amount'], item =>
    item.splits.map(split => `on ${accountOf(split.accountId)}`).join(', '),
  ),
  { key: 'net', mark: 'net', cells: { line: 'Net', amount: amountText(props.sheet.total) }, total: true },
  ...aheadSums(props.sheet.ahead, ['line', 'amount']),
])
const counted = (line: { kind: string }): boolean => line.kind === 'goods' || line.kind === 'workByRate'
</script>

<template>
  <LineTable
    class="section"
    :rows="sheet.lines"
    :columns="COLUMNS"
    label="Lines"
    :key-of="line => line.id"
    :sums="sums"
  >
    <template #position="{ row: line }"
      ><span class="unit">{{ line.position }}</span></template
    >
    <template #line="{ row: line }"
      ><del v-if="line.quantity === '0'">{{ line.description }}</del
      ><template v-else>{{ line.description }}</template
      ><small v-if="line.quantity === '0'">cancelled</small
      ><small>{{ [line.itemNumber, line.address && `to ${line.address}`].filter(Boolean).join(', ') }}</small
      ><small v-if="line.terms">{{ line.terms }}</small
      ><DeliveryList :deliveries="line.schedule" :unit="line.unit" /><small
        ><template v-if="line.needBy && line.schedule.length === 0">by {{ day(line.needBy) }}</template
        ><template v-if="line.schedule.length === 0 && line.promisedDate && line.promisedDate !== line.needBy"
          >, <span class="tone-attention">promised {{ day(line.promisedDate) }}</span></template
        ><template v-if="line.requisitionPath"
          ><template v-if="line.needBy && line.schedule.length === 0">, </template>from
          <RouterLink :to="line.requisitionPath">{{ line.requisitionNumber }}</RouterLink></template
        ></small
      ></template
    >
    <template #quantity="{ row: line }"
      ><template v-if="counted(line)"
        >{{ quantityText(line.quantity) }} <span class="unit">{{ unit(line.unit) }}</span></template
      ><span v-else class="unit">{{ line.kind === 'goodsByAmount' ? 'for at most' : 'fixed price' }}</span></template
    >
    <template #price="{ row: line }"
      ><template v-if="counted(line)"
        >{{ priceText(line.price)
        }}<span v-if="line.priceBase !== '1'" class="unit"> / {{ line.priceBase }}</span></template
      ></template
    >
    <template #amount="{ row: line }">{{ amountText(line.amount) }}</template>
    <template #gauge="{ row: line }"><GaugeBar :gauge="line.gauge" /></template>
  </LineTable>
  <p v-if="sheet.message" class="said">“{{ sheet.message }}”</p>
</template>

<style scoped>
.said {
  font-style: italic;
  margin-top: 8px;
}
</style>
