<script setup lang="ts">
import { computed } from 'vue'
import type { ThreadJson } from '#contract/fields.ts'
import { wholeText } from '#core/money/text.ts'
import { threadGeometry } from '#web/charts/threadGeometry.ts'
import { amountText, label, words } from '#web/shared/words.ts'

const props = defineProps<{ thread: ThreadJson; current: string }>()
const TOP = 24
const HEIGHT = 34
const WIDTH = 600
const bands = computed(() =>
  threadGeometry(
    props.thread.steps.map(step => Number(step.value)),
    { width: WIDTH, height: HEIGHT, gap: 8, top: TOP },
  ),
)
const compact = (value: string): string => amountText(wholeText(value))
</script>

<template>
  <figure class="thread" aria-label="Thread">
    <svg
      :viewBox="`0 0 ${WIDTH} 82`"
      role="img"
      :aria-label="
        thread.steps
          .map(
            step =>
              `${label('step', step.step)} ${thread.currency} ${step.value}${step.note ? `, ${words(step.note)}` : ''}`,
          )
          .join('; ')
      "
    >
      <g v-for="(step, index) in thread.steps" :key="step.step">
        <title>
          {{ label('step', step.step) }}: {{ thread.currency }} {{ amountText(step.value)
          }}{{ step.note ? `; ${words(step.note)}` : '' }}
        </title>
        <rect :x="bands[index]!.x" :y="TOP" :width="bands[index]!.width" :height="HEIGHT" fill="transparent" />
        <rect
          v-if="Number(step.value) === 0"
          :x="bands[index]!.x + 0.5"
          :y="TOP"
          :width="bands[index]!.width - 1"
          :height="HEIGHT"
          class="absent"
        />
        <path
          :d="bands[index]!.path"
          class="band"
          :class="{ current: step.documents.some(one => one.number === current) }"
        />
        <rect
          v-if="bands[index]!.missing > 0.5 && Number(step.value) > 0"
          :x="bands[index]!.x + 0.5"
          :y="TOP + bands[index]!.height"
          :width="bands[index]!.width - 1"
          :height="Math.max(1, bands[index]!.missing - 0.5)"
          class="gap"
        />
        <line
          :x1="bands[index]!.x"
          :x2="bands[index]!.x"
          :y1="TOP - 4"
          :y2="TOP + HEIGHT + 4"
          class="stem"
          :class="{ absent: Number(step.value) === 0 }"
        />
        <text :x="bands[index]!.x" y="14" class="name" :class="{ absent: Number(step.value) === 0 }">
          {{ label('step', step.step) }}
        </text>
        <text v-if="Number(step.value) > 0" :x="bands[index]!.x" :y="TOP + HEIGHT + 18" class="value">
          {{ compact(step.value) }}
        </text>
      </g>
    </svg>
    <ul class="documents">
      <li v-for="step in thread.steps" :key="step.step">
        <template v-for="one in step.documents.slice(0, 3)" :key="one.id">
          <RouterLink v-if="one.path && one.number !== current" :to="one.path" :title="label('state', one.state)">{{
            one.number
          }}</RouterLink>
          <span v-else>{{ one.number }}</span>
        </template>
        <span v-if="step.documents.length > 3" class="quiet">+{{ step.documents.length - 3 }}</span>
      </li>
    </ul>
  </figure>
</template>

<style scoped>
.thread {
  margin: 16px 0 18px;
  max-width: 720px;
}
svg {
  width: 100%;
  display: block;
  font: 11.5px var(--sans);
  overflow: visible;
}
.band {
  fill: var(--tide-light);
}
.band.current {
  fill: var(--tide-mid);
}
.gap {
  fill: none;
  stroke: var(--brass);
  stroke-dasharray: 3 2;
}
rect.absent {
  fill: none;
  stroke: #8b8b86;
  stroke-dasharray: 2 3;
}
.stem {
  stroke: var(--ink);
  stroke-width: 2;
}
.stem.absent {
  stroke: #8b8b86;
}
.name {
  font-weight: 600;
  fill: var(--ink);
}
.name.absent {
  fill: var(--ink-quiet);
  font-weight: 500;
}
.value {
  fill: var(--ink-quiet);
}
.documents {
  display: grid;
  grid-template-columns: repeat(7, 1fr);
  list-style: none;
  margin: 0;
  padding: 0;
  font-size: 11.5px;
}
.documents li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 6px;
  min-width: 0;
}
.documents a {
  display: inline-flex;
  align-items: center;
  min-height: 24px;
}
@media (max-width: 700px) {
  .thread {
    display: none;
  }
}
</style>
