<script setup lang="ts">
import { computed } from 'vue'
import type { Plan, PlanRow } from '#web/award/planText.ts'
import { amountText } from '#web/shared/words.ts'

/** Who gets how much of the whole, as bars; a limit that somebody wished stands as a mark. */
const props = defineProps<{ plan: Plan; row: PlanRow }>()
const PERCENT = 100
const bars = computed(() => {
  const whole = props.row.suppliers.reduce((sum, one) => sum + Number(one.amount), 0)
  return [...props.row.suppliers]
    .sort((a, b) => Number(b.amount) - Number(a.amount))
    .map(one => ({
      ...one,
      name: props.plan.suppliers.find(other => other.id === one.supplierId)?.name ?? '',
      percent: whole === 0 ? 0 : (Number(one.amount) / whole) * PERCENT,
      most: mostOf(one.supplierId),
    }))
})
function mostOf(supplierId: string): number | null {
  for (const { what } of props.plan.run?.wishes ?? [])
    if (
      what.kind === 'share' &&
      what.in === 'percent' &&
      what.most !== '' &&
      what.whom.kind === 'suppliers' &&
      what.whom.supplierIds.join() === supplierId
    )
      return Number(what.most)
  return null
}
</script>

<template>
  <section data-test="plan-shares">
    <h3>Who gets what</h3>
    <div v-for="one in bars" :key="one.supplierId" class="bar-row">
      <p class="both">
        <span>{{ one.name }}</span><span class="num">{{ one.percent.toFixed(1) }} %</span>
      </p>
      <div
        class="track"
        role="img"
        :aria-label="`${one.name}: ${one.percent.toFixed(1)} %, ${plan.currency} ${amountText(one.amount)}`"
      >
        <div class="fill" :style="{ width: `${one.percent}%` }" />
        <div v-if="one.most !== null" class="limit" :style="{ left: `${one.most}%` }" />
      </div>
      <p class="quiet">
        {{ plan.currency }} {{ amountText(one.amount) }}, {{ one.lines }} {{ one.lines === 1 ? 'line' : 'lines' }}
      </p>
    </div>
  </section>
</template>

<style scoped>
.both {
  display: flex;
  justify-content: space-between;
  margin: 6px 0 3px;
}
.track {
  position: relative;
  height: 7px;
  background: var(--rule-light);
}
.fill {
  height: 100%;
  background: var(--tide);
}
.limit {
  position: absolute;
  top: -2px;
  width: 2px;
  height: 11px;
  background: var(--ink);
}
.quiet {
  margin: 2px 0 4px;
  font-size: 12px;
}
</style>
