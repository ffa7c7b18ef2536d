<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { TakeBuyingList } from '#contract/order/buyingLists.ts'
import { Orders } from '#contract/order/endpoints.ts'
import { ExchangeFile, MakeExchange } from '#contract/order/exchange.ts'
import { MakeWorkbook, TakeWorkbook, WorkbookFile } from '#contract/order/workbook.ts'
import { api, pathOf, upload } from '#web/api.ts'
import { useAsked } from '#web/lists/useAsked.ts'
import FileField from '#web/shared/FileField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'

/** Lines of orders out into a workbook, and back: what is chosen in the list, or all that it shows. */
const props = defineProps<{ chosen: readonly string[]; mayWrite: boolean }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const asked = useAsked(Orders)
const { busy, reasons, run } = useAction()
const sent = ref<{ id: string; orders: number; left: number }>()
const made = ref<{ id: string; lines: number; orders: number }>()

async function make(): Promise<void> {
  made.value = await run(async () => api(MakeWorkbook, { body: { orderIds: await orderIds() } }))
}
async function send(): Promise<void> {
  sent.value = await run(async () => api(MakeExchange, { body: { orderIds: await orderIds() } }))
}
/** What is chosen in the list, else all that it shows. */
async function orderIds(): Promise<string[]> {
  const { group: _, ...query } = asked.asked.value
  return props.chosen.length > 0 ? [...props.chosen] : (await api(Orders.ids, { query })).ids
}
async function take([file]: File[]): Promise<void> {
  const taken = await run(async () => api(TakeWorkbook, { body: { fileId: (await upload(file!)).id } }))
  if (!taken) return
  await router.push(`/order/workbooks/${taken.id}`)
  emit('close')
}
async function takeList([file]: File[]): Promise<void> {
  const taken = await run(async () => api(TakeBuyingList, { body: { fileId: (await upload(file!)).id } }))
  if (!taken) return
  await router.push(`/order/lists/${taken.id}`)
  emit('close')
}
</script>

<template>
  <ElDialog :model-value="true" title="Workbook" width="540" append-to-body @close="emit('close')">
    <p>
      Lines of {{ chosen.length > 0 ? `the ${chosen.length} chosen orders` : 'all orders that the list shows' }} go out
      as a workbook. What you may change is tinted; the rest is locked.
    </p>
    <p class="bar">
      <ElButton v-if="!made" type="primary" :disabled="busy" data-test="make-workbook" @click="make">Make it</ElButton
      ><a v-else :href="pathOf(WorkbookFile, { id: made.id })" download data-test="workbook-file"
        >Fetch {{ made.lines }} {{ made.lines === 1 ? 'line' : 'lines' }} of {{ made.orders }}
        {{ made.orders === 1 ? 'order' : 'orders' }}</a
      >
    </p>
    <template v-if="mayWrite"
      ><h3>For another installation</h3>
      <p>Open orders of goods as one JSON file, with how far they have come; there, they are taken over.</p>
      <p class="bar">
        <ElButton v-if="!sent" :disabled="busy" data-test="make-exchange" @click="send">Make it</ElButton
        ><a v-else :href="pathOf(ExchangeFile, { id: sent.id })" download data-test="exchange-file"
          >Fetch {{ sent.orders }} {{ sent.orders === 1 ? 'order' : 'orders'
          }}<template v-if="sent.left">; {{ sent.left }} are not open</template></a
        >
      </p>
      <h3>Back again</h3>
      <p>What it would change is laid out first; nothing is changed before you say so.</p>
      <p class="bar">
        <FileField label="Give a workbook back" accept=".xlsx" mark="take-workbook" :busy="busy" @choose="take" />
      </p>
      <h3>New orders from a list</h3>
      <p>
        A workbook or CSV file with a row for each line: supplier, item or description, quantity, price, cost_centre,
        account and, if you like, unit, price_base, currency, need_by, place and project. Nothing is drafted before you
        have seen it.
      </p>
      <p class="bar">
        <FileField label="Give a list" accept=".xlsx,.csv,.txt" mark="take-list" :busy="busy" @choose="takeList" /></p
    ></template>
    <ReasonList :reasons="reasons" />
  </ElDialog>
</template>

<style scoped>
h3 {
  margin-top: 18px;
}
</style>
