<script setup lang="ts">
import { ReadLeftOpen } from '#contract/bill/journal.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText } from '#web/shared/words.ts'

/** What a month left open, by account and by line of an order: what came in and is not billed, what is billed and did not come in. */
const props = defineProps<{ month: string }>()
const { data } = useRead(ReadLeftOpen, () => ({ query: { month: props.month } }), { keep: true })
const KINDS = [
  { key: 'received', title: 'Received, not billed' },
  { key: 'billed', title: 'Billed, not received' },
] as const
</script>

<template>
  <section v-if="data" class="section" data-test="left-open">
    <h2>What it leaves open</h2>
    <p>
      Received and not billed: <b>{{ data.currency }} {{ amountText(data.received.total) }}</b
      >. Billed and not received: <b>{{ data.currency }} {{ amountText(data.billed.total) }}</b
      >. Bills that had come and wait: <b>{{ data.waiting.count }}</b><template v-if="data.waiting.count"
        >, {{ data.currency }} {{ amountText(data.waiting.total) }}</template
      >.
    </p>
    <LineTable
      v-if="data.accounts.length"
      :rows="data.accounts"
      :columns="
        lineColumns({ account: 'Account', '#received': 'Received, not billed', '#billed': 'Billed, not received' })
      "
      label="Left open, by account"
      :key-of="one => one.account"
      ><template #account="{ row: one }">{{ one.account }}</template>
      <template #received="{ row: one }">{{ amountText(one.received) }}</template>
      <template #billed="{ row: one }">{{ amountText(one.billed) }}</template></LineTable
    >
    <template v-for="kind in KINDS" :key="kind.key"
      ><template v-if="data[kind.key].lines.length"
        ><h3 class="section">{{ kind.title }}, line by line</h3>
        <LineTable
          :rows="data[kind.key].lines"
          :columns="
            lineColumns({ order: 'Order', line: 'Line', supplier: 'Supplier', '#amount': `Amount, ${data.currency}` })
          "
          :label="kind.title"
          :key-of="one => one.id"
          ><template #order="{ row: one }"
            ><RouterLink :to="one.path">{{ one.order }} line {{ one.position }}</RouterLink></template
          >
          <template #line="{ row: one }">{{ one.description }}</template>
          <template #supplier="{ row: one }">{{ one.supplier }}</template>
          <template #amount="{ row: one }">{{ amountText(one.amount) }}</template></LineTable
        ></template
      ></template
    >
  </section>
</template>
