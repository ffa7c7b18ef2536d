<script setup lang="ts">
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadSupplier } from '#contract/source/endpoints.ts'
import { amountText, since } from '#web/shared/words.ts'

/** What decides at a glance: what is bought there, and whether its signals are well. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadSupplier> }>()
const bad = computed(() => props.sheet.signals.filter(one => one.tone === 'bad'))
</script>

<template>
  <section class="section facts">
    <p>
      <span>Spent in a year</span
      ><b
        ><small class="unit">{{ sheet.figures.currency }}</small> {{ amountText(sheet.figures.spentYear) }}</b
      >
    </p>
    <p>
      <span>Open orders</span
      ><b
        >{{ sheet.figures.openOrders }} <small class="unit">{{ amountText(sheet.figures.openValue) }}</small></b
      >
    </p>
    <p>
      <span>Last order</span><b>{{ sheet.figures.lastOrder ? since(sheet.figures.lastOrder) : 'none yet' }}</b>
    </p>
    <p>
      <span>Open invoices</span><b>{{ sheet.figures.openInvoices }}</b>
    </p>
    <p>
      <span>Signals</span
      ><b :class="bad.length ? 'tone-stop' : 'tone-settled'">{{
        bad.length ? `▲ ${bad.length} of ${sheet.signals.length}` : sheet.signals.length ? '✓ all right' : 'none yet'
      }}</b>
    </p>
  </section>
</template>

<style scoped>
.facts {
  display: flex;
  gap: 14px 32px;
  flex-wrap: wrap;
}
.facts p {
  display: flex;
  flex-direction: column;
}
.facts span {
  color: var(--ink-quiet);
  font-size: 12px;
}
.facts b {
  font-size: 17px;
  font-weight: 600;
}
</style>
