<script setup lang="ts">
import { computed } from 'vue'
import { trendGeometry } from '#web/charts/trendGeometry.ts'

/** A small line of quarters with the threshold behind it; the same in words for those who cannot see it. */
const props = defineProps<{
  points: readonly { until: string; figure: string | null }[]
  threshold: string
  unit: string
}>()
const WIDTH = 96
const HEIGHT = 22
const drawn = computed(() =>
  trendGeometry(
    props.points.map(point => point.figure),
    props.threshold,
    WIDTH,
    HEIGHT,
  ),
)
const text = computed(() => props.points.map(point => `until ${point.until}: ${point.figure ?? 'nothing'}`).join('; '))
</script>

<template>
  <svg :width="WIDTH" :height="HEIGHT" role="img" :aria-label="text">
    <title>{{ text }}</title>
    <line
      v-if="drawn.threshold !== null"
      x1="0"
      :x2="WIDTH"
      :y1="drawn.threshold"
      :y2="drawn.threshold"
      class="threshold"
    />
    <template v-for="(run, index) in drawn.runs" :key="index">
      <polyline :points="run.map(point => `${point.x},${point.y}`).join(' ')" class="line" />
      <circle v-if="run.length === 1" :cx="run[0]!.x" :cy="run[0]!.y" r="1.6" class="dot" />
    </template>
    <circle v-if="drawn.last" :cx="drawn.last.x" :cy="drawn.last.y" r="2.4" class="dot" />
  </svg>
</template>

<style scoped>
.line {
  fill: none;
  stroke: var(--ink-quiet);
  stroke-width: 1.3;
}
.threshold {
  stroke: var(--rule);
  stroke-dasharray: 3 2;
}
.dot {
  fill: var(--tide);
}
</style>
