<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { ReadItem } from '#contract/request/catalogue.ts'
import { compareOffers, inOrder, priceLadder } from '#core/request/comparison.ts'
import { priceQuantity } from '#core/request/offer.ts'
import { formatAmount } from '#core/money/amount.ts'
import { isDecimalText } from '#core/money/decimal.ts'
import { roundedText } from '#core/money/text.ts'
import LadderChart from '#web/charts/LadderChart.vue'
import TrendLine from '#web/charts/TrendLine.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useSession } from '#web/people/session.ts'
import { useBasket } from '#web/request/basket.ts'
import NoticeStrip from '#web/request/NoticeStrip.vue'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, day, priceText, quantityText, unit } from '#web/shared/words.ts'

/** One item: all its offers side by side at the wanted quantity, the ladder of the chosen one, what was paid, and who asked for it last. */
const route = useRoute()
const session = useSession()
const basket = useBasket()
const { busy, reasons, run } = useAction()
const { sheet: item, failure, reload } = useSheet(ReadItem, () => String(route.params.id))
const quantity = ref('1')
const chosenId = ref('')
const done = ref('')
watch(item, (now, before) => {
  // read again after news: what was typed and chosen stays
  if (now?.id === before?.id) return
  const first = now?.offers[0]
  if (first) quantity.value = first.unit === now.unit ? String(Math.max(1, Number(first.minimum))) : '1'
  chosenId.value = ''
  done.value = ''
})
const picture = computed(() =>
  item.value?.picture ? `data:image/svg+xml,${encodeURIComponent(item.value.picture)}` : '',
)
const valid = computed(() => isDecimalText(quantity.value) && Number(quantity.value) > 0)
const rows = computed(() => {
  if (!item.value || !valid.value) return []
  const offers = new Map(item.value.offers.map(offer => [offer.id, offer]))
  return inOrder(
    compareOffers(item.value.offers, quantity.value, item.value, item.value.baseCurrency),
    row => offers.get(row.id)!.agreement,
  ).map(row => ({ row, offer: offers.get(row.id)! }))
})
const usable = (state: string, ended: string | null): boolean =>
  state === 'active' && (ended === null || ended >= session.today)
const chosen = computed(
  () =>
    rows.value.find(one => one.offer.id === chosenId.value) ??
    rows.value.find(one => usable(one.offer.supplierState, one.offer.validTo) && !one.row.noConversion) ??
    rows.value[0],
)
const result = computed(() =>
  chosen.value ? priceQuantity(chosen.value.offer, chosen.value.row.quantity, session.today) : undefined,
)
const best = computed(() =>
  rows.value
    .filter(one => one.row.landed !== null && !one.row.noConversion)
    .reduce<bigint | null>((low, one) => (low === null || one.row.landed! < low ? one.row.landed! : low), null),
)
const paidTrend = computed(() =>
  [...(item.value?.paid ?? [])].reverse().map(one => ({ until: one.day, figure: one.baseUnitPrice })),
)

async function put(): Promise<void> {
  const one = chosen.value!
  const already = basket.lines.some(line => line.offerId === one.offer.id)
  const kept = await run(() =>
    basket.put({ itemId: item.value!.id, offerId: one.offer.id, quantity: one.row.quantity }),
  )
  done.value = kept ? (already ? 'The basket now has the new quantity.' : 'It is in the basket.') : ''
}
</script>

<template>
  <SheetFailure v-if="failure" :failure="failure" @again="reload" />
  <article v-else-if="item" class="item-sheet">
    <img v-if="picture" :src="picture" alt="" width="150" height="150" />
    <p class="quiet">Item {{ item.number }}, {{ item.category }}</p>
    <h1>{{ item.name }}</h1>
    <p>{{ item.description }}</p>
    <p class="quiet">
      {{
        [
          item.gtin && `GTIN ${item.gtin}`,
          item.maker && `made by ${item.maker}${item.makerNumber ? `, ${item.makerNumber}` : ''}`,
          item.alsoCalled && `also called ${item.alsoCalled}`,
          item.stocked && 'stocked',
          item.certified && 'with certificate',
        ]
          .filter(Boolean)
          .join('; ')
      }}
    </p>
    <p class="quiet">
      Counted in {{ unit(item.unit)
      }}<template v-for="pack in item.packs" :key="pack.unit"
        >; a {{ unit(pack.unit) }} holds {{ quantityText(pack.holds) }}</template
      >
    </p>
    <p v-if="item.discontinuedOn" class="reasons check">
      Discontinued {{ day(item.discontinuedOn) }}.<template v-if="item.replacedBy">
        <RouterLink :to="{ path: `/request/catalogue/${item.replacedBy.id}`, query: route.query }"
          >{{ item.replacedBy.name }} ({{ item.replacedBy.number }})</RouterLink
        >
        takes its place.</template
      >
    </p>
    <NoticeStrip :categories="[item.category]" :suppliers="item.offers.map(offer => offer.supplierId)" />
    <p class="bar want">
      <label class="bar"
        >I need <NumberField v-model="quantity" label="Quantity" width="110px" data-test="want" />
        {{ unit(item.unit) }}</label
      >
    </p>
    <ReasonList :reasons="[...reasons, ...basket.reasons]" />
    <table v-if="rows.length" class="lines offers" data-test="offers">
      <thead>
        <tr>
          <th />
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
          :class="{ now: chosen?.offer.id === offer.id, off: !usable(offer.supplierState, offer.validTo) }"
        >
          <td>
            <input
              type="radio"
              name="offer"
              :checked="chosen?.offer.id === offer.id"
              :aria-label="`Offer of ${offer.supplier}`"
              :disabled="row.noConversion"
              @change="chosenId = offer.id"
            />
          </td>
          <td>
            {{ offer.supplier
            }}<small v-if="offer.agreement" class="tone-settled">agreement {{ offer.agreement }}</small
            ><small>{{
              [offer.supplierItem, offer.incoterm && `${offer.incoterm} ${offer.incotermPlace}`]
                .filter(Boolean)
                .join(', ')
            }}</small
            ><small v-if="offer.supplierState !== 'active'" class="tone-stop">orders are stopped</small
            ><small v-if="offer.validTo && offer.validTo < session.today" class="tone-stop"
              >ended {{ day(offer.validTo) }}</small
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
            {{ priceText(row.price) }}
            <span class="unit">{{ offer.currency }}{{ offer.priceBase === '1' ? '' : ` / ${offer.priceBase}` }}</span>
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
          <td class="num">
            {{ row.perUnit ? priceText(roundedText(row.perUnit, 4)) : '' }}
          </td>
          <td>
            {{ day(offer.earliest) }}<small>{{ offer.leadTimeDays }} working days</small>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="item.offers.length === 0" class="empty">
      Nobody offers this at the moment. Write a request; purchasing will ask.
    </p>
    <template v-if="chosen && result"
      ><ReasonList :reasons="result.reasons as never[]" />
      <p class="bar put">
        <ElButton
          type="primary"
          :disabled="busy || !usable(chosen.offer.supplierState, chosen.offer.validTo) || chosen.row.noConversion"
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
        <div>
          <h2>What was paid</h2>
          <p v-if="!item.paid.length" class="quiet">Nothing was ordered in three years.</p>
          <template v-else
            ><TrendLine :points="paidTrend" :threshold="item.paid[0]!.baseUnitPrice" unit="" />
            <table class="lines">
              <tbody>
                <tr v-for="(one, index) in item.paid.slice(0, 5)" :key="index">
                  <td>{{ day(one.day) }}</td>
                  <td>{{ one.supplier }}</td>
                  <td class="num">{{ quantityText(one.quantity) }} {{ unit(one.unit) }}</td>
                  <td class="num">
                    {{ priceText(one.price) }} <span class="unit">{{ one.currency }}</span>
                  </td>
                </tr>
              </tbody>
            </table></template
          >
          <template v-if="item.askedBy.length"
            ><h3>Asked for by</h3>
            <p v-for="(one, index) in item.askedBy.slice(0, 4)" :key="index" class="quiet">
              {{ one.person }}, {{ day(one.day) }}, {{ quantityText(one.quantity) }} {{ unit(one.unit) }}
              {{ one.number }}
            </p></template
          >
        </div>
      </section></template
    >
  </article>
</template>

<style scoped>
.item-sheet {
  padding: 20px 26px 50px;
}
.item-sheet > img {
  float: right;
  border: 1px solid var(--rule);
  background: var(--sheet);
  margin: 0 0 12px 16px;
}
.want {
  margin: 16px 0 8px;
}
.offers {
  clear: both;
}
.offers .now td {
  background: #fbf7ee;
}
.offers .off td {
  color: var(--ink-quiet);
}
.put {
  margin-top: 12px;
}
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(250px, 1fr));
  gap: 24px;
}
.two h3 {
  margin: 12px 0 4px;
}
.two td {
  padding: 4px 8px 4px 0;
}
@media (max-width: 700px) {
  .item-sheet {
    padding: 12px 16px 30px;
  }
  .item-sheet > img {
    width: 90px;
    height: 90px;
  }
  .offers {
    display: block;
    overflow-x: auto;
  }
}
</style>
