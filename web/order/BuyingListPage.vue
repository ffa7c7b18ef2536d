<script setup lang="ts">
import '#contract/messages/later.ts'
import '#web/theme/later.scss'
import { ElButton, ElRadio, ElRadioGroup } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { BodyOf } from '#contract/endpoint.ts'
import { ChangeBuyingList, LIST_ROW_STATES, MakeListedOrders, ReadBuyingList } from '#contract/order/buyingLists.ts'
import { api } from '#web/api.ts'
import BuyingListRows from '#web/order/BuyingListRows.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, stamp } from '#web/shared/words.ts'

/** A list of goods to be ordered: which rows are ready and the drafts that they make, what is refused and why, what each item cost last. */
type State = (typeof LIST_ROW_STATES)[number]
const route = useRoute()
const id = computed(() => String(route.params.id))
const { data, failure, reload } = useRead(
  ReadBuyingList,
  computed(() => ({ params: { id: id.value } })),
  { keep: true },
)
const { busy, reasons, run } = useAction()
const shown = ref<State | ''>('')
const count = (state: State): number => (data.value?.rows ?? []).filter(row => row.state === state).length
const counts = computed(() =>
  LIST_ROW_STATES.map(state => [state, count(state)] as const).filter(([, some]) => some > 0),
)
watch(
  data,
  (now, before) => {
    if (!now || before) return
    shown.value = count('refused') > 0 ? 'refused' : ''
  },
  { immediate: true },
)
const rows = computed(() => (data.value?.rows ?? []).filter(row => shown.value === '' || row.state === shown.value))

async function change(changed: BodyOf<typeof ChangeBuyingList>['rows']): Promise<void> {
  const body = { version: data.value!.version, rows: changed }
  await run(() => api(ChangeBuyingList, { params: { id: id.value }, body }))
  await reload()
}
async function make(): Promise<void> {
  if (await run(() => api(MakeListedOrders, { params: { id: id.value }, body: { version: data.value!.version } })))
    shown.value = 'made'
  await reload()
}
const drafts = (some: number): string => (some === 1 ? 'one draft' : `${some} drafts`)
</script>

<template>
  <SheetFailure v-if="failure && !data" :failure="failure" @again="reload" />
  <article v-else-if="data" class="rows-page">
    <p class="quiet"><RouterLink to="/order">Order</RouterLink>, new orders from a list</p>
    <h1>{{ data.fileName }}</h1>
    <p>
      Taken in {{ stamp(data.at) }}. Rows of one supplier and currency become one draft; what was not requested is
      approved before it is issued.
    </p>
    <ul v-if="data.drafts.length" class="drafts" data-test="list-drafts">
      <li v-for="one in data.drafts" :key="`${one.supplier} ${one.currency}`">
        <b>{{ one.supplier }}</b> {{ one.rows.length }} {{ one.rows.length === 1 ? 'line' : 'lines' }},
        {{ amountText(one.total) }} <span class="unit">{{ one.currency }}</span>
      </li>
    </ul>
    <div class="bar tools">
      <ElRadioGroup v-model="shown" aria-label="Which rows"
        ><ElRadio value="">All {{ data.rows.length }}</ElRadio
        ><ElRadio v-for="[state, some] in counts" :key="state" :value="state" :data-test="`show-${state}`"
          ><span :class="{ 'tone-stop': state === 'refused' }"
            >{{ laterLabel('listed row', state) }} {{ some }}</span
          ></ElRadio
        ></ElRadioGroup
      >
      <ElButton
        type="primary"
        class="go"
        :disabled="busy || data.drafts.length === 0"
        data-test="make-listed"
        @click="make"
        >Write {{ drafts(data.drafts.length) }}</ElButton
      >
    </div>
    <ReasonList :reasons="reasons" />
    <BuyingListRows :rows="rows" :busy="busy" @change="change" />
  </article>
</template>

<style scoped>
.drafts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 26px;
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
</style>
