<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadEvidence } from '#contract/decide/endpoints.ts'
import { hoursText } from '#web/shared/words.ts'

/** Where days are lost: for each decider the time of all their decisions together, and how long one usually took. */
const props = defineProps<{ times: ResponseOf<typeof ReadEvidence>['times'] }>()
const WIDTH = 420
const scale = computed(() =>
  scaleLinear()
    .domain([0, Math.max(1, ...props.times.map(one => one.total))])
    .range([0, WIDTH]),
)
</script>

<template>
  <section class="decider-times" aria-label="Where time goes">
    <h2>Where time goes</h2>
    <ol>
      <li v-for="one in times" :key="one.decider">
        <span>{{ one.decider }}</span>
        <svg :viewBox="`0 0 ${WIDTH} 14`" preserveAspectRatio="none" aria-hidden="true">
          <rect y="2" height="10" :width="Math.max(2, scale(one.total))" />
          <path :d="`M${Math.max(1, scale(one.median))} 0v14`" />
        </svg>
        <span class="quiet"
          >{{ hoursText(one.total) }} in {{ one.count === 1 ? 'one decision' : `${one.count} decisions` }}, usually
          {{ hoursText(one.median) }}</span
        >
      </li>
    </ol>
  </section>
</template>

<style scoped>
ol {
  list-style: none;
  padding: 0;
  margin: 6px 0 0;
}
li {
  display: grid;
  grid-template-columns: 190px minmax(120px, 420px) 1fr;
  gap: 14px;
  align-items: center;
  padding: 3px 0;
}
svg {
  width: 100%;
  height: 14px;
}
rect {
  fill: #6fa3a6;
}
path {
  stroke: var(--ink);
  stroke-width: 2;
}
</style>
