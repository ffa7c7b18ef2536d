<script setup lang="ts">
import '#contract/messages/later.ts'
import { useIntervalFn } from '@vueuse/core'
import { computed, onMounted, watch } from 'vue'
import { useRoute } from 'vue-router'
import { ReadAsked, SeeAsked } from '#contract/source/asked.ts'
import { ReadAskedDay } from '#contract/source/day.ts'
import { api } from '#web/api.ts'
import { connected, documentTopic } from '#web/news/news.ts'
import { t } from '#web/shared/language.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useRead } from '#web/shared/useRead.ts'
import { useServerClock } from '#web/source/serverClock.ts'
import AskedHead from '#web/supplier-pages/AskedHead.vue'
import AskedMessages from '#web/supplier-pages/AskedMessages.vue'
import BidLot from '#web/supplier-pages/BidLot.vue'
import SupplierFrame from '#web/supplier-pages/SupplierFrame.vue'

/** The bidding as one supplier sees it: its own bids, its place where that is shown, the clock of the server. */
const route = useRoute()
const id = computed(() => String(route.params.id))
const topics = () => [documentTopic(id.value)]
const {
  data: day,
  failure,
  reload,
} = useRead(ReadAskedDay, () => ({ params: { id: id.value } }), { topics, keep: true })
const { data: asked, reload: reloadAsked } = useRead(ReadAsked, () => ({ params: { id: id.value } }), {
  topics,
  keep: true,
})
const now = useServerClock(() => day.value?.serverTime)
const HERE = 30_000
const here = (): void => void api(SeeAsked, { params: { id: id.value } }).catch(() => undefined)
onMounted(here)
useIntervalFn(here, HERE)
// the moment at which it opens or ends is nobody's act: the page asks by itself
watch(now, (at, before) => {
  const edges = day.value?.lots.flatMap(one => [one.endsAt, one.phase === 'planned' ? one.opensAt : null]) ?? []
  if (edges.some(edge => edge !== null && Date.parse(edge) <= at && Date.parse(edge) > before)) void reload()
})
const may = computed(
  () => asked.value?.may.bid?.length === 0 || asked.value?.may.bid?.every(one => one.code === 'event.overAsk') === true,
)
</script>

<template>
  <SupplierFrame>
    <SheetFailure v-if="failure" :failure="failure" @again="reload" />
    <article v-else-if="day && asked" class="asked">
      <AskedHead :asked="asked" />
      <p v-if="!connected" class="tone-attention" role="status">
        {{ t('The line is down. What you typed stays; the page goes on by itself.') }}
      </p>
      <p v-if="asked.terms && !asked.accepted" class="tone-attention">
        <RouterLink :to="`/supplier/asked/${id}`">{{ t('First accept the terms.') }}</RouterLink>
      </p>
      <BidLot
        v-for="lot in day.lots"
        :key="lot.id"
        :event-id="id"
        :lot="lot"
        :currency="day.currency"
        :now="now"
        :may="may && !day.suspended"
        @done="reload"
      />
      <AskedMessages :asked="asked" @changed="reloadAsked" />
    </article>
  </SupplierFrame>
</template>

<style scoped>
.asked {
  background: var(--sheet);
  border: 1px solid var(--rule);
  padding: 18px 22px 26px;
}
@media (max-width: 700px) {
  .asked {
    padding: 12px;
  }
}
</style>
