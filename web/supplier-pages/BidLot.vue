<script setup lang="ts">
import { ElButton } from 'element-plus'
import { useSessionStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { PlaceBid, type ReadAskedDay } from '#contract/source/day.ts'
import { Decimal } from '#core/money/decimal.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { t } from '#web/shared/language.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, priceText, quantityText, timeText, unit } from '#web/shared/words.ts'
import { leftText } from '#web/source/eventMoment.ts'

/**
 * One lot: where one stands, how long it still goes, the next bid. What is typed is kept, also where the line
 * drops or the page is opened anew.
 */
type Lot = ResponseOf<typeof ReadAskedDay>['lots'][number]
const props = defineProps<{ eventId: string; lot: Lot; currency: string; now: number; may: boolean }>()
const emit = defineEmits<{ done: [] }>()
const { busy, reasons, run, clear } = useAction()
const prices = useSessionStorage<Record<string, string>>(`bid-${props.lot.id}`, {})
/** One bid has one id until it was taken: pressing twice, or again after the line came back, is the same bid. */
const bidId = useSessionStorage(`bid-id-${props.lot.id}`, crypto.randomUUID())
const unfolded = ref(false)
const taken = ref<ResponseOf<typeof PlaceBid>>()
const open = computed(() => props.lot.phase === 'open')
const last = computed(() => props.lot.own.filter(one => !one.out).at(-1))
const total = computed(() => {
  const filled = props.lot.lines.every(line => (prices.value[line.id] ?? '') !== '')
  if (!filled) return ''
  return props.lot.lines
    .reduce(
      (sum, line) => sum.plus(new Decimal(prices.value[line.id]!).times(line.quantity).toDecimalPlaces(2)),
      new Decimal(0),
    )
    .toFixed(2)
})
const clock = computed(() =>
  props.lot.phase === 'paused'
    ? leftText(props.lot.left ?? 0)
    : open.value && props.lot.endsAt
      ? leftText(Date.parse(props.lot.endsAt) - props.now)
      : props.lot.phase === 'planned' && props.lot.opensAt
        ? leftText(Date.parse(props.lot.opensAt) - props.now)
        : '',
)
const phase = computed(
  () =>
    ({ planned: t('opens in'), open: t('still open'), paused: t('paused, still'), over: t('over') })[props.lot.phase],
)
async function bid(): Promise<void> {
  taken.value = undefined
  const body = { bidId: bidId.value, lotId: props.lot.id, prices: { ...prices.value } }
  const done = await run(() => api(PlaceBid, { params: { id: props.eventId }, key: bidId.value, body }))
  if (!done) {
    // what was refused is not the bid that comes next
    if (reasons.value.some(one => one.code !== 'server.databaseAway')) bidId.value = crypto.randomUUID()
    return
  }
  taken.value = done
  bidId.value = crypto.randomUUID()
  emit('done')
}
</script>

<template>
  <section class="lot" :data-test="`lot-${lot.title}`">
    <div class="head">
      <h2>{{ lot.title }}</h2>
      <p class="clock">
        <span class="quiet">{{ phase }}</span> <b v-if="clock" role="timer" data-test="bid-clock">{{ clock }}</b>
      </p>
    </div>
    <p class="standing" data-test="own-place">
      <template v-if="lot.place"
        >{{ t('You are number {place}', { place: lot.place })
        }}<template v-if="lot.bidders"> {{ t('of {count}', { count: lot.bidders }) }}</template
        >.</template
      ><template v-else-if="!last">{{ t('You have not bid yet.') }}</template>
      <template v-if="last">
        {{ t('Your bid:') }} <b>{{ amountText(last.total) }} {{ currency }}</b
        >.</template
      >
      <template v-if="lot.best"> {{ t('The best:') }} {{ amountText(lot.best) }} {{ currency }}.</template>
      <template v-if="lot.nextAtMost && lot.phase !== 'over'">
        {{ t('Your next bid: {most} at most.', { most: `${amountText(lot.nextAtMost)} ${currency}` }) }}</template
      >
    </p>
    <EntryForm v-if="lot.phase !== 'over'" :reasons="reasons" :busy="busy" @submit="bid">
      <FormField
        v-for="line in lot.lines"
        :key="line.id"
        :label="`${line.description}, ${t('price for one of {quantity}', { quantity: `${quantityText(line.quantity)} ${unit(line.unit)}` })}`"
        :place="`lines.${line.id}`"
        :help="line.ceiling ? t('No more than {most} for the line.', { most: amountText(line.ceiling) }) : ''"
        ><NumberField
          :model-value="prices[line.id] ?? ''"
          :label="line.description"
          width="160px"
          :disabled="!may"
          @update:model-value="
            value => {
              prices = { ...prices, [line.id]: value }
              clear()
            }
          " /></FormField
      ><FormField label="" place="total"
        ><p class="bar">
          <ElButton
            type="primary"
            size="large"
            native-type="submit"
            :disabled="busy || !may || !open || total === ''"
            data-test="bid"
            >{{ total ? t('Bid {total}', { total: `${amountText(total)} ${currency}` }) : t('Bid') }}</ElButton><span
            v-if="taken"
            class="tone-settled"
            role="status"
            data-test="bid-taken"
            >{{ t('Taken: {total}.', { total: `${amountText(taken.total)} ${currency}` })
            }}{{ taken.place ? ` ${t('You are number {place}', { place: taken.place })}.` : '' }}</span
          >
        </p></FormField
      >
    </EntryForm>
    <div v-if="lot.own.length">
      <ElButton link :aria-expanded="unfolded" @click="unfolded = !unfolded"
        >{{ t('Your bids') }} ({{ lot.own.length }})</ElButton
      >
      <template v-if="unfolded">
        <p v-for="one in [...lot.own].reverse()" :key="one.id" :class="{ quiet: one.out }">
          {{ timeText(one.at) }} {{ amountText(one.total) }} {{ currency
          }}{{ one.out ? `, ${t('taken out by the buyer')}` : '' }}
          <span class="quiet">{{ lot.lines.length === 1 ? priceText(one.prices[lot.lines[0]!.id] ?? '') : '' }}</span>
        </p></template
      >
    </div>
  </section>
</template>

<style scoped>
.lot {
  margin-top: 16px;
  padding-top: 10px;
  border-top: 1px solid var(--rule);
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: 12px;
}
.clock b {
  font: 600 26px/1 var(--serif);
  font-feature-settings: 'tnum';
}
.standing {
  font-size: 15px;
  margin: 6px 0 8px;
}
</style>
