<script setup lang="ts">
import { computed } from 'vue'
import type { StepJson } from '#contract/fields.ts'
import { stepBars } from '#web/charts/stepTimes.ts'
import { day, hoursText, label } from '#web/shared/words.ts'

/** The way of a request through its decisions, with how long each took, by whom, for whom, and how. */
const props = defineProps<{ steps: readonly StepJson[] }>()
const WIDTH = 460
const now = new Date().toISOString()
const shape = computed(() => stepBars(props.steps, now, WIDTH))
const who = (step: StepJson): string => step.decidedBy ?? step.approvers.map(one => one.name).join(' or ')
const how = (step: StepJson): string => {
  const hours =
    step.openedAt === null ? null : (Date.parse(step.decidedAt ?? now) - Date.parse(step.openedAt)) / 3_600_000
  return [
    label('state', step.state),
    ...(hours === null ? [] : [step.decidedAt === null ? `for ${hoursText(hours)}` : `after ${hoursText(hours)}`]),
    ...(step.channel && step.channel !== 'web' ? [`by ${label('channel', step.channel)}`] : []),
    ...(step.inPlaceOf ? [`in place of ${step.inPlaceOf}`] : []),
    ...(step.paused ? ['waits for an answer'] : []),
  ].join(', ')
}
</script>

<template>
  <section v-if="steps.some(step => step.openedAt)" class="step-times" aria-label="How long each decision took">
    <h2>How long each decision took</h2>
    <ol>
      <li v-for="(step, index) in steps" :key="step.id ?? index">
        <span
          >{{ who(step) }}<small class="quiet">{{ how(step) }}</small></span
        >
        <svg :viewBox="`0 0 ${WIDTH} 16`" preserveAspectRatio="none" aria-hidden="true">
          <path v-for="tick in shape.ticks" :key="tick.day" class="tick" :d="`M${tick.at} 0v16`" />
          <rect
            v-if="shape.bars[index]"
            :x="shape.bars[index]!.from"
            :width="shape.bars[index]!.width"
            y="3"
            height="10"
            :class="{ open: shape.bars[index]!.open, stop: step.stall }"
          />
        </svg>
      </li>
    </ol>
    <p v-if="shape.ticks.length > 1" class="axis quiet">
      <span>{{ day(shape.ticks[0]!.day.slice(0, 10)) }}</span><span>{{
        day(shape.ticks.at(-1)!.day.slice(0, 10))
      }}</span>
    </p>
  </section>
</template>

<style scoped>
.step-times {
  margin-top: 18px;
  max-width: 760px;
}
ol {
  list-style: none;
  padding: 0;
  margin: 6px 0 0;
}
li {
  display: grid;
  grid-template-columns: minmax(160px, 260px) 1fr;
  gap: 14px;
  align-items: center;
  padding: 3px 0;
}
small {
  display: block;
}
svg {
  width: 100%;
  height: 16px;
}
.tick {
  stroke: var(--rule);
}
rect {
  fill: var(--tide);
}
rect.open {
  fill: var(--brass);
}
rect.stop {
  fill: var(--madder);
}
.axis {
  display: flex;
  justify-content: space-between;
  margin-left: calc(min(260px, 40%) + 14px);
  font-size: 12px;
}
</style>
