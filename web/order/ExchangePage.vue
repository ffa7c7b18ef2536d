<script setup lang="ts">
import '#contract/messages/later.ts'
import '#web/theme/later.scss'
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { LoadExchange, MapExchange, ReadExchange } from '#contract/order/exchange.ts'
import { api } from '#web/api.ts'
import ForeignNames from '#web/order/ForeignNames.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import { lineColumns } from '#web/shared/lineTable.ts'
import LineTable from '#web/shared/LineTable.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { stamp, words } from '#web/shared/words.ts'

/** Orders of another installation: what its names mean here, which orders are ready, and why the others are not. */
const route = useRoute()
const id = computed(() => String(route.params.id))
const { data, failure, reload } = useRead(ReadExchange, computed(() => ({ params: { id: id.value } })), { keep: true }) // prettier-ignore
const { busy, reasons, run } = useAction()
const ready = computed(() => (data.value?.orders ?? []).filter(one => one.state === 'ready').length)
type Name = NonNullable<typeof data.value>['names'][number]

async function say(name: Name, ours: string): Promise<void> {
  const { kind, theirs } = name
  const body = { version: data.value!.version, names: [{ kind, theirs, ours }] }
  await run(() => api(MapExchange, { params: { id: id.value }, body }))
  await reload()
}
async function load(): Promise<void> {
  await run(() => api(LoadExchange, { params: { id: id.value }, body: { version: data.value!.version } }))
  await reload()
}
</script>

<template>
  <SheetFailure v-if="failure && !data" :failure="failure" @again="reload" />
  <article v-else-if="data" class="rows-page exchange">
    <p class="quiet"><RouterLink to="/order">Order</RouterLink>, orders of another installation</p>
    <h1>{{ data.sender }}</h1>
    <p>
      Taken in {{ stamp(data.at) }}. Say what its names mean here; that is kept for the next time. Orders that are ready
      are taken over as issued, with what has come so far; their suppliers are told nothing.
    </p>
    <p class="bar">
      <ElButton type="primary" :disabled="busy || ready === 0" data-test="load-exchange" @click="load"
        >Take over {{ ready }} {{ ready === 1 ? 'order' : 'orders' }}</ElButton
      >
    </p>
    <ReasonList :reasons="reasons" />
    <ForeignNames :names="data.names" :busy="busy" @say="say" />
    <section class="section">
      <h2>Orders</h2>
      <LineTable
        :rows="data.orders"
        :columns="
          lineColumns({ number: 'Number there', supplier: 'Supplier there', '#lines': 'Lines', state: 'How it stands' })
        "
        label="Orders"
        :key-of="one => one.number"
        :mark="one => `exchanged-${one.number}`"
      >
        <template #number="{ row: one }">{{ one.number }}</template>
        <template #supplier="{ row: one }">{{ one.supplier }}</template>
        <template #lines="{ row: one }">{{ one.lines }}</template>
        <template #state="{ row: one }"
          ><span v-if="one.made" class="tone-settled"
            >taken over as <RouterLink :to="one.made.path">{{ one.made.number }}</RouterLink></span
          ><span v-else :class="one.state === 'refused' ? 'tone-stop' : ''">{{
            laterLabel('exchanged', one.state)
          }}</span
          ><small v-for="reason in one.reasons" :key="reason.code + JSON.stringify(reason.details)">{{
            words(reason)
          }}</small></template
        >
      </LineTable>
    </section>
  </article>
</template>

<style scoped>
.exchange {
  overflow: auto;
}
</style>
