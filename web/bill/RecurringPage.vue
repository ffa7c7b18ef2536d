<script setup lang="ts">
import { ReadRecurring } from '#contract/bill/recurring.ts'
import WorkPage from '#web/frame/WorkPage.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, day, label, quantityText, unit } from '#web/shared/words.ts'

/** What is billed again and again by a plan, and which of its bills have not come. */
const { data, loading } = useRead(ReadRecurring)
const TONES: Readonly<Record<string, string>> = { missing: 'tone-stop', part: 'tone-attention', billed: 'tone-settled' }
</script>

<template>
  <WorkPage :margin="0" :aria-busy="loading"
    ><h1>Bills by plan</h1>
    <p class="quiet">
      Lines of orders that need no receipt and have several days, such as rent and energy. A bill that has not come ten
      days after its day is missing.
    </p>
    <p v-if="data && data.plans.length === 0" class="empty">
      No order is billed by a plan. Order what comes again with a day for each bill, and no receipt.
    </p>
    <section v-for="plan in data?.plans" :key="plan.id" class="section" data-test="plan">
      <h2>
        {{ plan.description }} <span class="quiet">{{ plan.supplier }}</span>
      </h2>
      <p>
        <RouterLink v-if="plan.path" :to="plan.path">{{ plan.order }}</RouterLink><template v-else>{{
          plan.order
        }}</template
        >:
        <b :class="plan.missing ? 'tone-stop' : 'tone-settled'">{{
          plan.missing === 0
            ? 'all bills that were due have come'
            : plan.missing === 1
              ? 'one bill is missing'
              : `${plan.missing} bills are missing`
        }}</b>
      </p>
      <LineTable
        :rows="plan.expected"
        :columns="lineColumns({ date: 'Expected', '#quantity': 'Quantity', '#amount': plan.currency, state: 'State' })"
        :label="plan.description"
        :key-of="one => one.date"
        ><template #date="{ row: one }">{{ day(one.date) }}</template>
        <template #quantity="{ row: one }">{{ quantityText(one.quantity) }} {{ unit(plan.unit) }}</template>
        <template #amount="{ row: one }">{{ amountText(one.amount) }}</template>
        <template #state="{ row: one }"
          ><span :class="TONES[one.state]">{{ label('expected bill', one.state) }}</span></template
        ></LineTable
      >
    </section></WorkPage
  >
</template>
