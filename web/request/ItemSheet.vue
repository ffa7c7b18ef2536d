<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { type OfferJson, ReadItem } from '#contract/request/catalogue.ts'
import { priceLadder } from '#core/request/comparison.ts'
import { priceQuantity } from '#core/request/offer.ts'
import { formatAmount } from '#core/money/amount.ts'
import { isDecimalText } from '#core/money/decimal.ts'
import LadderChart from '#web/charts/LadderChart.vue'
import { useSession } from '#web/people/session.ts'
import { useBasket } from '#web/request/basket.ts'
import { comparedOffers, usable } from '#web/request/compared.ts'
import ItemForm from '#web/request/ItemForm.vue'
import ItemHead from '#web/request/ItemHead.vue'
import NoticeStrip from '#web/request/NoticeStrip.vue'
import OfferForm from '#web/request/OfferForm.vue'
import OfferPrices from '#web/request/OfferPrices.vue'
import OfferTable from '#web/request/OfferTable.vue'
import PaidBefore from '#web/request/PaidBefore.vue'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { quantityText, unit } from '#web/shared/words.ts'

/** One item: all its offers side by side at the wanted quantity, the ladder of the chosen one, what was paid, and who asked for it last. */
const route = useRoute()
const router = useRouter()
const session = useSession()
const basket = useBasket()
const { busy, reasons, run } = useAction()
const { sheet: item, failure, reload } = useSheet(ReadItem, () => String(route.params.id))
const keeping = computed(() => session.may('catalogue.write'))
const quantity = ref('1')
const chosenId = ref('')
const done = ref('')
const editing = ref<'' | 'item' | 'itemCopy' | 'offer'>('')
const offer = shallowRef<OfferJson>()
const copying = ref(false)
const priced = shallowRef<OfferJson>()
watch(item, (now, before) => {
  // read again after news: what was typed and chosen stays
  if (now?.id === before?.id) return
  const first = now?.offers[0]
  if (first) quantity.value = first.unit === now.unit ? String(Math.max(1, Number(first.minimum))) : '1'
  chosenId.value = ''
  done.value = ''
})
const valid = computed(() => isDecimalText(quantity.value) && Number(quantity.value) > 0)
const rows = computed(() => (item.value && valid.value ? comparedOffers(item.value, quantity.value) : []))
const chosen = computed(
  () =>
    rows.value.find(one => one.offer.id === chosenId.value) ??
    rows.value.find(one => usable(one.offer, session.today) && !one.row.noConversion) ??
    rows.value[0],
)
const result = computed(() =>
  chosen.value ? priceQuantity(chosen.value.offer, chosen.value.row.quantity, session.today) : undefined,
)

async function put(): Promise<void> {
  const one = chosen.value!
  const already = basket.lines.some(line => line.offerId === one.offer.id)
  const kept = await run(() =>
    basket.put({ itemId: item.value!.id, offerId: one.offer.id, quantity: one.row.quantity }),
  )
  done.value = kept ? (already ? 'The basket now has the new quantity.' : 'It is in the basket.') : ''
}
function editOffer(one: OfferJson | undefined, copy = false): void {
  offer.value = one
  copying.value = copy
  editing.value = 'offer'
}
function kept(id = ''): void {
  editing.value = ''
  if (id && id !== item.value?.id) void router.push({ path: `/request/catalogue/${id}`, query: route.query })
  else reload()
}
</script>

<template>
  <SheetFailure v-if="failure" :failure="failure" @again="reload" />
  <article v-else-if="item" class="item-sheet">
    <ItemHead :item="item" :keeping="keeping" @edit="editing = $event" @changed="reload" />
    <NoticeStrip :categories="[item.category]" :suppliers="item.offers.map(one => one.supplierId)" />
    <p class="bar want">
      <label class="bar"
        >I need <NumberField v-model="quantity" label="Quantity" width="110px" data-test="want" />
        {{ unit(item.unit) }}</label
      ><ElButton v-if="keeping" link data-test="new-offer" @click="editOffer(undefined)">Add an offer</ElButton>
    </p>
    <ReasonList :reasons="[...reasons, ...basket.reasons]" />
    <OfferTable
      v-if="rows.length"
      :model-value="chosen?.offer.id ?? ''"
      :item="item"
      :rows="rows"
      :keeping="keeping"
      @update:model-value="chosenId = $event"
      @change="editOffer"
      @prices="priced = $event"
    />
    <p v-else-if="item.offers.length === 0" class="empty">
      Nobody offers this at the moment. Write a request; purchasing will ask.
    </p>
    <template v-if="chosen && result"
      ><ReasonList :reasons="result.reasons as never[]" />
      <p class="bar put">
        <ElButton
          type="primary"
          :disabled="busy || !usable(chosen.offer, session.today) || chosen.row.noConversion"
          :data-test="`put-${chosen.offer.supplierItem}`"
          @click="put"
          >Put {{ quantityText(chosen.row.quantity) }} {{ unit(chosen.offer.unit) }} into the basket</ElButton
        ><span v-if="done" class="tone-settled" role="status">{{ done }}</span>
      </p>
      <section class="section two">
        <div v-if="chosen.offer.tiers.length > 1">
          <h2>Price ladder, {{ chosen.offer.supplier }}</h2>
          <LadderChart
            :steps="priceLadder(chosen.offer)"
            :wanted="{ quantity: chosen.row.quantity, total: chosen.row.amount }"
            :unit="unit(chosen.offer.unit)"
            :currency="chosen.offer.currency"
            :minimum="chosen.offer.minimum"
            :multiple="chosen.offer.multiple"
            :total-text="amount => formatAmount(amount, chosen!.offer.currency)"
          />
        </div>
        <PaidBefore :item="item" /></section
    ></template>
    <ItemForm
      v-if="editing === 'item' || editing === 'itemCopy'"
      :item="item"
      :copy="editing === 'itemCopy'"
      @close="editing = ''"
      @kept="kept"
    />
    <OfferForm
      v-if="editing === 'offer'"
      :item="item"
      :offer="offer"
      :copy="copying"
      @close="editing = ''"
      @kept="kept()"
    />
    <OfferPrices v-if="priced" :offer="priced" @close="priced = undefined" />
  </article>
</template>

<style scoped>
.item-sheet {
  padding: 20px 26px 50px;
}
.want {
  margin: 16px 0 8px;
}
.put {
  margin-top: 12px;
}
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(250px, 1fr));
  gap: 24px;
}
@media (max-width: 700px) {
  .item-sheet {
    padding: 12px 16px 30px;
  }
}
</style>
