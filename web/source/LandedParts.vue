<script setup lang="ts">
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { type CompareEvent, ReadLanded } from '#contract/source/comparing.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, priceText, quantityText } from '#web/shared/words.ts'

/** How one line's landed cost comes about. */
type Comparison = ResponseOf<typeof CompareEvent>
const props = defineProps<{
  eventId: string
  lineId: string
  cell: NonNullable<Comparison['lines'][number]['cells'][number]>
  supplier: Comparison['suppliers'][number]
  currency: string
}>()
const { data, failure, reload } = useRead(ReadLanded, () => ({
  params: { id: props.eventId },
  query: { lineId: props.lineId, supplierId: props.supplier.supplierId },
}))
const landed = computed(() => data.value?.landed)
const parts = computed(() => {
  if (!landed.value) return []
  const { goods, goodsNow, freight, other, insurance, duty } = landed.value
  return [
    ['goods', goods],
    ...(goodsNow === goods ? [] : [[`worth now, paid after ${props.supplier.paymentDays ?? 0} days`, goodsNow]]),
    ['freight', freight],
    ['other parts', other],
    ['insurance', insurance],
    ['duty', duty],
  ].filter(([name, amount]) => name === 'goods' || amount !== '0.00') as [string, string][]
})
</script>

<template>
  <div class="parts">
    <p>
      {{ priceText(cell.price) }} {{ supplier.currency
      }}{{ cell.priceBase === '1' ? '' : ` for ${quantityText(cell.priceBase)}` }} × {{ quantityText(cell.quantity)
      }}<template v-if="supplier.currency !== currency"> at {{ supplier.rate ?? 'no rate' }}</template>
    </p>
    <SheetFailure v-if="failure" :failure="failure" @again="reload" />
    <dl v-else>
      <template v-for="[name, amount] in parts" :key="name"
        ><dt>{{ name }}</dt>
        <dd>{{ amountText(amount) }}</dd></template
      ><template v-if="landed"
        ><dt><b>landed</b></dt>
        <dd>
          <b>{{ amountText(landed.total) }}</b> {{ currency }}
        </dd>
        <dt>for one</dt>
        <dd>{{ priceText(landed.perUnit) }}</dd></template
      >
    </dl>
    <p v-for="tier in data?.tiers ?? []" :key="tier.from" class="quiet">
      from {{ quantityText(tier.from) }} on {{ priceText(tier.perUnit) }} for one, landed
    </p>
    <p v-if="cell.leadDays !== null" class="quiet">{{ cell.leadDays }} days to deliver</p>
    <p v-if="cell.minimum" class="quiet">sold from {{ quantityText(cell.minimum) }} on</p>
    <p v-if="cell.note">“{{ cell.note }}”</p>
  </div>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 14px;
  margin: 6px 0;
}
dd {
  margin: 0;
  text-align: right;
  font-variant-numeric: tabular-nums;
}
</style>
