<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import type { ListRow } from '#contract/fields.ts'
import { DraftOrders, ToBuy } from '#contract/order/endpoints.ts'
import { api } from '#web/api.ts'
import ListPane from '#web/frame/ListPane.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText } from '#web/shared/words.ts'

const router = useRouter()
const { busy, reasons, run } = useAction()
const chosen = ref<string[]>([])
const rows = shallowRef<ListRow[]>([])
const pane = ref<{ reload: () => void }>()
const groups = computed(() => {
  const map = new Map<string, { supplier: string; currency: string; lines: number; amount: number }>()
  for (const row of rows.value.filter(one => chosen.value.includes(one.id))) {
    const key = `${row.cells.supplier} ${row.currency}`
    const group = map.get(key) ?? { supplier: row.cells.supplier ?? '', currency: row.currency ?? '', lines: 0, amount: 0 }
    map.set(key, { ...group, lines: group.lines + 1, amount: group.amount + Number(row.amount ?? 0) })
  }
  return [...map.values()]
})
async function draft(): Promise<void> {
  const done = await run(() => api(DraftOrders, { body: { lineIds: chosen.value } }))
  if (done?.orders[0]) await router.push(done.orders.length === 1 ? `/order/${done.orders[0].id}` : '/order?state=draft&view=all')
  else pane.value?.reload()
}
</script>

<template>
  <div class="to-buy">
    <ListPane ref="pane" :list="ToBuy" name="to-buy" :selected="undefined" :wide="true" :choosing="true" @choose="chosen = $event" @shown="rows = $event">
      <template #acts>
        <p class="bar list-acts"><RouterLink to="/order">Orders</RouterLink><ElButton type="primary" :disabled="busy || chosen.length === 0" data-primary data-test="draft-orders" @click="draft">{{ groups.length > 1 ? `Make ${groups.length} draft orders` : 'Make a draft order' }}</ElButton>
          <span v-for="group in groups" :key="group.supplier + group.currency" class="quiet">{{ group.supplier }}: {{ group.lines }} {{ group.lines === 1 ? 'line' : 'lines' }}, {{ amountText(group.amount.toFixed(2)) }} {{ group.currency }}</span>
          <span v-if="chosen.length === 0" class="quiet">Choose lines; those of one supplier and currency go on one order.</span></p>
        <ReasonList :reasons="reasons" />
      </template>
      <template #empty>Nothing approved waits to be bought.</template>
    </ListPane>
  </div>
</template>

<style scoped>
.to-buy { flex: 1; min-height: 0; }
</style>
