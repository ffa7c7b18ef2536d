<script setup lang="ts">
import { ElButton, ElRadio } from 'element-plus'
import { computed } from 'vue'
import type { ItemJson, OfferJson } from '#contract/request/catalogue.ts'
import { hasEnded } from '#core/request/offer.ts'
import { formatAmount } from '#core/money/amount.ts'
import { roundedText } from '#core/money/text.ts'
import { useSession } from '#web/people/session.ts'
import { type ComparedOffer, usable } from '#web/request/compared.ts'
import { amountText, day, priceText, quantityText, unit } from '#web/shared/words.ts'

/** All offers of an item side by side at the wanted quantity. */
const props = defineProps<{ item: ItemJson; rows: readonly ComparedOffer[]; keeping: boolean }>()
const chosen = defineModel<string>({ required: true })
const emit = defineEmits<{ change: [offer: OfferJson, copy: boolean]; prices: [offer: OfferJson] }>()
const session = useSession()
const best = computed(() =>
  props.rows
    .filter(one => one.row.landed !== null && !one.row.noConversion)
    .reduce<bigint | null>((low, one) => (low === null || one.row.landed! < low ? one.row.landed! : low), null),
)
const per = (base: string): string => (base === '1' ? '' : ` / ${base}`)
</script>

<template>
  <table class="lines offers" data-test="offers">
    <thead>
      <tr>
        <th><span class="visually-hidden">Choose</span></th>
        <th>Offer</th>
        <th class="num">To buy</th>
        <th class="num">Unit price</th>
        <th class="num">With carriage, {{ item.baseCurrency }}</th>
        <th class="num">Each</th>
        <th>There by</th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="{ row, offer } in rows"
        :key="offer.id"
        :class="{ now: chosen === offer.id, off: !usable(offer, session.today) }"
      >
        <td>
          <ElRadio
            v-model="chosen"
            :value="offer.id"
            :aria-label="`Offer of ${offer.supplier}`"
            :disabled="row.noConversion"
            ><span class="visually-hidden">Offer of {{ offer.supplier }}</span></ElRadio
          >
        </td>
        <td>
          {{ offer.supplier }}<small v-if="offer.agreement" class="tone-settled">agreement {{ offer.agreement }}</small
          ><small>{{
            [offer.supplierItem, offer.incoterm && `${offer.incoterm} ${offer.incotermPlace}`]
              .filter(Boolean)
              .join(', ')
          }}</small
          ><small v-if="offer.supplierState !== 'active'" class="tone-stop">orders are stopped</small
          ><small v-if="hasEnded(offer, session.today)" class="tone-stop">ended {{ day(offer.validTo) }}</small
          ><small v-else-if="offer.validTo" class="quiet">until {{ day(offer.validTo) }}</small
          ><span v-if="keeping" class="keep"
            ><ElButton link :data-test="`change-${offer.supplierItem}`" @click="emit('change', offer, false)"
              >change</ElButton
            ><ElButton link @click="emit('change', offer, true)">copy</ElButton
            ><ElButton link :data-test="`prices-${offer.supplierItem}`" @click="emit('prices', offer)"
              >prices</ElButton
            ></span
          >
        </td>
        <td class="num">
          {{ quantityText(row.quantity) }} <span class="unit">{{ unit(offer.unit) }}</span><small
            v-if="row.noConversion"
            class="tone-stop"
            >does not convert</small
          ><small v-else-if="row.more !== '0'">{{ quantityText(row.more) }} more</small>
        </td>
        <td class="num">
          {{ priceText(row.price) }} <span class="unit">{{ offer.currency }}{{ per(offer.priceBase) }}</span
          ><small v-if="offer.next"
            >{{ priceText(offer.next.price) }}{{ per(offer.next.priceBase) }} from {{ day(offer.next.fromDay) }}</small
          >
        </td>
        <td class="num">
          <template v-if="row.landed !== null && !row.noConversion"
            ><b :class="{ 'tone-settled': row.landed === best }">{{
              amountText(formatAmount(row.landed, item.baseCurrency))
            }}</b
            ><small v-if="row.freightUnknown" class="tone-attention">carriage unknown</small
            ><small v-else-if="row.freight > 0n"
              >with {{ amountText(formatAmount(row.freight, offer.currency)) }} {{ offer.currency }}</small
            ></template
          ><span v-else class="quiet">{{ row.landed === null ? `no rate for ${offer.currency}` : '' }}</span>
        </td>
        <td class="num">{{ row.perUnit ? priceText(roundedText(row.perUnit, 4)) : '' }}</td>
        <td>
          {{ day(offer.earliest) }}<small>{{ offer.leadTimeDays }} working days</small>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.offers {
  clear: both;
}
.offers .now td {
  background: #fbf7ee;
}
.offers .off td {
  color: var(--ink-quiet);
}
.keep {
  display: flex;
  gap: 12px;
  font-size: 12px;
}
.el-radio {
  margin: 0;
  height: 24px;
}
@media (max-width: 700px) {
  .offers {
    display: block;
    overflow-x: auto;
  }
}
</style>
