<script setup lang="ts">
import { computed } from 'vue'
import type { LadderStep } from '#core/request/comparison.ts'
import { ladderGeometry } from '#web/charts/ladderGeometry.ts'
import { amountText, priceText, quantityText } from '#web/shared/words.ts'

/** What a quantity costs in all, tier by tier; brass where buying up to the next tier costs less. The same in words below it. */
const props = defineProps<{
  steps: readonly LadderStep[]
  wanted: { quantity: string; total: bigint } | null
  unit: string
  currency: string
  minimum: string
  multiple: string
  totalText: (amount: bigint) => string
}>()
const WIDTH = 360
const HEIGHT = 132
const shape = computed(() => ladderGeometry(props.steps, props.wanted, WIDTH, HEIGHT))
const sentences = computed(() =>
  props.steps.map(
    (step, index) =>
      `from ${quantityText(step.from)} ${props.unit} at ${priceText(step.price)}${step.cheaperFrom ? `, worth buying from ${quantityText(step.cheaperFrom)} on` : ''}${index === 0 ? ` (minimum ${quantityText(props.minimum)}, in steps of ${quantityText(props.multiple)})` : ''}`,
  ),
)
</script>

<template>
  <figure class="ladder">
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="sentences.join('; ')">
      <title>{{ sentences.join('; ') }}</title>
      <line x1="34" :x2="WIDTH - 10" :y1="HEIGHT - 20" :y2="HEIGHT - 20" class="axis" />
      <rect
        v-for="one in shape.cheaper"
        :key="one.from"
        :x="one.x1"
        y="8"
        :width="Math.max(2, one.x2 - one.x1)"
        :height="HEIGHT - 28"
        class="cheaper"
      />
      <line
        v-for="(part, index) in shape.parts"
        :key="index"
        v-bind="{ x1: part.x1, y1: part.y1, x2: part.x2, y2: part.y2 }"
        class="part"
      />
      <circle v-for="(mark, index) in shape.marks" :key="`m${index}`" :cx="mark.x" :cy="mark.y" r="2.6" class="mark" />
      <text v-for="(tick, index) in shape.ticks" :key="`t${index}`" :x="tick.x" :y="HEIGHT - 6" text-anchor="middle">
        {{ quantityText(tick.label) }}
      </text>
      <template v-if="shape.wanted">
        <line :x1="shape.wanted.x" :x2="shape.wanted.x" y1="8" :y2="HEIGHT - 20" class="wanted" />
        <circle :cx="shape.wanted.x" :cy="shape.wanted.y" r="4" class="want" />
      </template>
    </svg>
    <figcaption>
      <template v-if="wanted"
        ><b>{{ amountText(totalText(wanted.total)) }}</b>
        <span class="unit">{{ currency }} in all for {{ quantityText(wanted.quantity) }} {{ unit }}</span
        ><br /></template
      ><span v-for="(one, index) in sentences" :key="index" class="quiet step">{{ one }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
.ladder {
  margin: 10px 0;
  max-width: 460px;
}
svg {
  width: 100%;
  display: block;
}
.axis {
  stroke: var(--rule);
}
.part {
  stroke: var(--tide);
  stroke-width: 1.8;
}
.mark {
  fill: var(--tide);
}
.cheaper {
  fill: #fbf3df;
}
.wanted {
  stroke: var(--ink);
  stroke-dasharray: 2 3;
}
.want {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
}
text {
  font: 10px var(--sans);
  fill: var(--ink-quiet);
}
figcaption {
  font-size: 12px;
}
.step {
  display: block;
}
</style>
