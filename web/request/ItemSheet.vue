<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { ReadItem } from '#contract/request/endpoints.ts'
import { allowedQuantity, priceQuantity } from '#core/request/offer.ts'
import { formatAmount } from '#core/money/amount.ts'
import { isDecimalText } from '#core/money/decimal.ts'
import SheetFailure from '#web/frame/SheetFailure.vue'
import { useSession } from '#web/people/session.ts'
import { useBasket } from '#web/request/basket.ts'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, day, priceText, quantityText, unit, words } from '#web/shared/words.ts'

const route = useRoute()
const session = useSession()
const basket = useBasket()
const { busy, reasons, run } = useAction()
const { sheet: item, failure, reload } = useSheet(ReadItem, () => String(route.params.id))
const quantity = ref('1')
const done = ref('')
watch(item, now => { const first = now?.offers[0]; if (first) quantity.value = allowedQuantity(first, '1'); done.value = '' })
const picture = computed(() => (item.value?.picture ? `data:image/svg+xml,${encodeURIComponent(item.value.picture)}` : ''))
const priced = computed(() => (item.value?.offers ?? []).map(offer => ({ offer, result: isDecimalText(quantity.value) && Number(quantity.value) > 0 ? priceQuantity(offer, quantity.value, session.today) : undefined, allowed: isDecimalText(quantity.value) ? allowedQuantity(offer, quantity.value) : quantity.value })))

async function put(offerId: string, amount: string): Promise<void> {
  const already = basket.lines.find(line => line.offerId === offerId)
  await run(() => basket.put({ itemId: item.value!.id, offerId, quantity: amount }))
  done.value = already ? 'The basket now has the new quantity.' : 'It is in the basket.'
}
</script>

<template>
  <SheetFailure v-if="failure" :failure="failure" @again="reload" />
  <article v-else-if="item" class="item-sheet">
    <img v-if="picture" :src="picture" alt="" width="150" height="150" />
    <p class="quiet">Item {{ item.number }}, {{ item.category }}</p><h1>{{ item.name }}</h1><p>{{ item.description }}</p><p class="quiet">GTIN {{ item.gtin || 'none' }}; counted in {{ unit(item.unit) }}</p>
    <p class="bar want"><label class="bar">I need <NumberField v-model="quantity" label="Quantity" width="110px" data-test="want" /> {{ unit(item.unit) }}</label></p>
    <ReasonList :reasons="reasons" /><p v-if="done" class="tone-settled" role="status">{{ done }}</p>
    <section v-for="{ offer, result, allowed } in priced" :key="offer.id" class="offer">
      <h2>{{ offer.supplier }} <small v-if="offer.supplierState !== 'active'" class="tone-stop">orders are stopped</small></h2>
      <p class="quiet">their number {{ offer.supplierItem || 'unknown' }}; there by {{ day(offer.earliest) }} if ordered today ({{ offer.leadTimeDays }} working days); from {{ quantityText(offer.minimum) }} in steps of {{ quantityText(offer.multiple) }}</p>
      <table class="lines tiers"><thead><tr><th class="num">From, {{ unit(offer.unit) }}</th><th class="num">Price, {{ offer.currency }}{{ offer.priceBase === '1' ? '' : ` per ${offer.priceBase}` }}</th></tr></thead><tbody><tr v-for="tier in offer.tiers" :key="tier.from" :class="{ now: result?.price === tier.price }"><td class="num">{{ quantityText(tier.from) }}</td><td class="num">{{ priceText(tier.price) }}</td></tr></tbody></table>
      <p v-if="result" class="sum"><b>{{ amountText(formatAmount(result.amount, offer.currency)) }}</b> <span class="unit">{{ offer.currency }} for {{ quantityText(quantity) }} {{ unit(offer.unit) }}</span></p>
      <ReasonList v-if="result" :reasons="(result.reasons as never[])" />
      <p class="bar"><ElButton type="primary" :disabled="busy || offer.supplierState !== 'active' || !result" :data-test="`put-${offer.supplierItem}`" @click="put(offer.id, allowed)">{{ allowed === quantity ? 'Put into the basket' : `Put ${quantityText(allowed)} into the basket` }}</ElButton><span v-if="result && result.reasons.length" class="visually-hidden">{{ result.reasons.map(words).join(' ') }}</span></p>
    </section>
    <p v-if="priced.length === 0" class="empty">Nobody offers this at the moment. Write a request; purchasing will ask.</p>
  </article>
</template>

<style scoped>
.item-sheet { padding: 20px 26px 50px; } .item-sheet > img { float: right; border: 1px solid var(--rule); background: var(--sheet); margin: 0 0 12px 16px; } .want { margin: 16px 0; } .offer { clear: both; border-top: 1px solid var(--ink); padding: 12px 0 18px; } .offer h2 small { font: 12px var(--sans); } .tiers { width: auto; margin: 6px 0; } .tiers .now td { font-weight: 700; } .sum { margin: 6px 0; } .sum b { font-size: 17px; }
</style>
