<script setup lang="ts">
import { computed } from 'vue'
import type { BudgetFigures } from '#contract/fields.ts'
import { wholeText } from '#core/money/text.ts'
import { budgetGeometry } from '#web/charts/budgetGeometry.ts'
import { amountText } from '#web/shared/words.ts'
import { useSession } from '#web/people/session.ts'

const props = defineProps<{ figures: BudgetFigures; plain?: boolean }>()
const session = useSession()
const WIDTH = 240
const shape = computed(() => budgetGeometry(props.figures, WIDTH))
const left = computed(() => Number(props.figures.after))
const whole = (text: string): string => amountText(wholeText(text))
const table = computed(
  () =>
    `${props.figures.label}: allotted ${props.figures.allotted}, spent ${props.figures.spent}, committed ${props.figures.committed}, reserved ${props.figures.reserved}, this document ${props.figures.here}, left after ${props.figures.after} ${props.figures.currency}`,
)
const bar = ([from, to]: [number, number]) => ({ x: from, width: Math.max(0, to - from) })
</script>

<template>
  <div class="budget">
    <RouterLink v-if="!plain && session.may('budget.read')" :to="`/insight/${figures.accountId}`">{{
      figures.label
    }}</RouterLink>
    <span v-else>{{ figures.label }}</span>
    <svg :viewBox="`0 0 ${WIDTH} 18`" preserveAspectRatio="none" role="img" :aria-label="table">
      <title>{{ table }}</title>
      <defs>
        <pattern id="hatch" width="5" height="5" patternTransform="rotate(45)" patternUnits="userSpaceOnUse">
          <rect width="5" height="5" fill="#D5E4E2" />
          <path d="M0 0v5" stroke="#0E5A63" stroke-width="2" />
        </pattern>
      </defs>
      <rect y="3" height="12" v-bind="bar(shape.spent)" fill="#0E5A63" />
      <rect y="3" height="12" v-bind="bar(shape.committed)" fill="#6FA3A6" />
      <rect y="3" height="12" v-bind="bar(shape.reserved)" fill="#B9D3D1" />
      <rect v-if="Number(figures.here) > 0" y="3" height="12" v-bind="bar(shape.here)" fill="url(#hatch)" />
      <rect x="0.5" y="2.5" :width="Math.max(1, shape.frame - 1)" height="13" fill="none" stroke="#1B2431" />
      <path
        :d="`M${Math.min(shape.end, WIDTH - 1)} 0v18`"
        :stroke="shape.overdrawn ? '#A8352A' : '#1B2431'"
        stroke-width="1.6"
      />
    </svg>
    <p class="foot">
      <span class="quiet">of {{ whole(figures.allotted) }}</span
      ><span :class="{ 'tone-stop': left < 0 }">{{
        left < 0 ? `${whole(figures.after.replace('-', ''))} over` : `${whole(figures.after)} left`
      }}</span>
    </p>
  </div>
</template>

<style scoped>
.budget {
  margin-bottom: 10px;
}
svg {
  width: 100%;
  height: 18px;
  display: block;
  margin: 3px 0 1px;
}
.foot {
  display: flex;
  justify-content: space-between;
  font-size: 11.5px;
}
</style>
