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
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

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
  <LineTable
    class="offers"
    data-test="offers"
    :now="({ offer }) => chosen === offer.id"
    :off="({ offer }) => !usable(offer, session.today)"
    :rows="rows"
    :columns="
      lineColumns({
        '-choose': 'Choose',
        offer: 'Offer',
        '#toBuy': 'To buy',
        '#price': 'Unit price',
        '#landed': `With carriage, ${item.baseCurrency}`,
        '#each': 'Each',
        there: 'There by',
      })
    "
    label="Offers"
    :key-of="({ offer }) => offer.id"
    ><template #choose="{ row: { row, offer } }"
      ><ElRadio
        v-model="chosen"
        :value="offer.id"
        :aria-label="`Offer of ${offer.supplier}`"
        :disabled="row.noConversion"
        ><span class="visually-hidden">Offer of {{ offer.supplier }}</span></ElRadio
      ></template
    >
    <template #offer="{ row: { offer } }"
      >{{ offer.supplier
      }}<small v-if="offer.agreement" class="tone-settled"
        >agreement
        <RouterLink v-if="offer.agreementPath" :to="offer.agreementPath">{{ offer.agreement }}</RouterLink><template
          v-else
          >{{ offer.agreement }}</template
        ></small
      ><small>{{
        [offer.supplierItem, offer.incoterm && `${offer.incoterm} ${offer.incotermPlace}`].filter(Boolean).join(', ')
      }}</small
      ><small v-if="offer.supplierState !== 'active'" class="tone-stop">orders are stopped</small
      ><small v-if="hasEnded(offer, session.today)" class="tone-stop">ended {{ day(offer.validTo) }}</small
      ><small v-else-if="offer.validTo" class="quiet">until {{ day(offer.validTo) }}</small
      ><span v-if="keeping" class="keep"
        ><ElButton
          v-if="!offer.agreed"
          link
          :data-test="`change-${offer.supplierItem}`"
          @click="emit('change', offer, false)"
          >change</ElButton
        ><ElButton link @click="emit('change', offer, true)">copy</ElButton
        ><ElButton link :data-test="`prices-${offer.supplierItem}`" @click="emit('prices', offer)"
          >prices</ElButton
        ></span
      ></template
    >
    <template #toBuy="{ row: { row, offer } }"
      >{{ quantityText(row.quantity) }} <span class="unit">{{ unit(offer.unit) }}</span><small
        v-if="row.noConversion"
        class="tone-stop"
        >does not convert</small
      ><small v-else-if="row.more !== '0'">{{ quantityText(row.more) }} more</small></template
    >
    <template #price="{ row: { row, offer } }"
      >{{ priceText(row.price) }} <span class="unit">{{ offer.currency }}{{ per(offer.priceBase) }}</span
      ><small v-if="offer.next"
        >{{ priceText(offer.next.price) }}{{ per(offer.next.priceBase) }} from {{ day(offer.next.fromDay) }}</small
      ></template
    >
    <template #landed="{ row: { row, offer } }"
      ><template v-if="row.landed !== null && !row.noConversion"
        ><b :class="{ 'tone-settled': row.landed === best }">{{
          amountText(formatAmount(row.landed, item.baseCurrency))
        }}</b
        ><small v-if="row.freightUnknown" class="tone-attention">carriage unknown</small
        ><small v-else-if="row.freight > 0n"
          >with {{ amountText(formatAmount(row.freight, offer.currency)) }} {{ offer.currency }}</small
        ></template
      ><span v-else class="quiet">{{ row.landed === null ? `no rate for ${offer.currency}` : '' }}</span></template
    >
    <template #each="{ row: { row } }">{{ row.perUnit ? priceText(roundedText(row.perUnit, 4)) : '' }}</template>
    <template #there="{ row: { offer } }"
      >{{ day(offer.earliest) }}<small>{{ offer.leadTimeDays }} working days</small></template
    ></LineTable
  >
</template>

<style scoped>
.offers {
  clear: both;
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
</style>
