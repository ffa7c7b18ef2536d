<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { isZeroText, roundedText } from '#core/money/text.ts'
import { type Plan, type PlanOutcome, type PlanRow, wishText } from '#web/award/planText.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { amountText, priceText, quantityText, unit } from '#web/shared/words.ts'

/** The chosen plan line by line: who gets how much, what a unit costs, how much above the cheapest, and why. */
const props = defineProps<{ plan: Plan; outcome: PlanOutcome; row: PlanRow }>()
const emit = defineEmits<{ open: [lineId: string] }>()
const nameOf = (id: string): string => props.plan.suppliers.find(one => one.id === id)?.name ?? ''
const rows = computed(() =>
  props.plan.lines.map(line => ({
    ...line,
    shares: props.row.shares.filter(one => one.lineId === line.id),
    figures: props.row.figures.find(one => one.lineId === line.id),
    why: props.row.key === 'best' ? props.outcome.why.find(one => one.lineId === line.id) : undefined,
  })),
)
type Shown = (typeof rows.value)[number]
const to = (line: Shown): string =>
  line.shares.length === 0
    ? 'nobody'
    : line.shares.length === 1
      ? nameOf(line.shares[0]!.supplierId)
      : line.shares.map(one => `${nameOf(one.supplierId)} ${quantityText(one.quantity)}`).join(', ')
function whyText({ why, figures, shares }: Shown): string {
  if (shares.length === 0) return 'stays open'
  if (!why) return figures && isZeroText(figures.above) ? 'cheapest' : ''
  const wish = props.plan.run?.wishes.find(one => one.id === why.wishId)
  if (why.because === 'wish' && wish) return `${nameOf(why.cheapestId)} is out: ${wishText(props.plan, wish)}`
  return `${nameOf(why.cheapestId)}, ${why.cheaper} % cheaper: ${laterLabel('plan because', why.because)}`
}
/** Cents say enough of what costs more than a few euros. */
const FEW = 10
const unitCost = (text: string): string => (Number(text) < FEW ? priceText(text) : priceText(roundedText(text, 2)))
const tried = (line: Shown): boolean =>
  (props.plan.terms.quantities[line.id] ?? '') !== '' ||
  Object.keys(props.plan.terms.bids).some(key => key.startsWith(line.id))
</script>

<template>
  <section class="section" data-test="plan-lines">
    <h2>Line by line</h2>
    <LineTable
      :rows="rows"
      :columns="
        lineColumns({
          '~position': '',
          what: 'Line',
          '#quantity': 'Quantity',
          to: 'To',
          '#each': 'Landed, each',
          '#above': 'Above cheapest',
          '#paid': 'Amount',
          '~why': 'Why',
        })
      "
      label="Line by line"
      :key-of="line => line.id"
      ><template #position="{ row: line }">{{ line.position }}</template>
      <template #what="{ row: line }"
        ><ElButton link class="what" :data-test="`plan-line-${line.position}`" @click="emit('open', line.id)">{{
          line.description
        }}</ElButton
        ><small v-if="tried(line)" class="tone-attention">changed to try</small></template
      >
      <template #quantity="{ row: line }"
        >{{ quantityText(plan.terms.quantities[line.id] || line.quantity) }} {{ unit(line.unit) }}</template
      >
      <template #to="{ row: line }"
        ><b>{{ to(line) }}</b></template
      >
      <template #each="{ row: line }">{{ line.figures ? unitCost(line.figures.each) : '' }}</template>
      <template #above="{ row: line }"
        ><span v-if="line.figures && !isZeroText(line.figures.above)" class="tone-attention"
          >+ {{ unitCost(line.figures.above) }}</span
        ></template
      >
      <template #paid="{ row: line }">{{ line.figures ? amountText(line.figures.amount) : '' }}</template>
      <template #why="{ row: line }">{{ whyText(line) }}</template></LineTable
    >
  </section>
</template>

<style scoped>
.what {
  color: inherit;
  white-space: normal;
  text-align: left;
}
</style>
