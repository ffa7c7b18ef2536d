<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'

/** From 0 to 100 per cent for the price: who is first where. Each stretch says its name; the list below says the same. */
const props = defineProps<{
  turns: readonly { from: string; supplierId: string }[]
  names: (id: string) => string
  at: number
  set: number
}>()
const WIDTH = 560
const HEIGHT = 46
const x = scaleLinear([0, 100], [0, WIDTH])
const SHADES = ['var(--tide-light)', 'var(--page-deep)', 'var(--sheet)']
const stretches = computed(() =>
  props.turns.map((turn, index) => {
    const from = Number(turn.from)
    const to = Number(props.turns[index + 1]?.from ?? 100)
    return {
      name: props.names(turn.supplierId),
      from,
      x: x(from),
      width: x(to) - x(from),
      shade: SHADES[index % SHADES.length],
    }
  }),
)
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" aria-label="Who is first at which weight of the price">
      <g v-for="one in stretches" :key="one.from">
        <rect :x="one.x" y="4" :width="one.width" height="24" :fill="one.shade" stroke="var(--rule)" />
        <text v-if="one.width > 60" :x="one.x + 6" y="20">{{ one.name }}</text>
        <text v-if="one.from > 0" class="edge" :x="one.x" y="42" text-anchor="middle">{{ one.from.toFixed(1) }} %</text>
      </g>
      <line :x1="x(set)" :x2="x(set)" y1="0" y2="32" stroke="var(--ink)" stroke-dasharray="2 2" />
      <line :x1="x(at)" :x2="x(at)" y1="0" y2="32" stroke="var(--tide)" stroke-width="2" />
    </svg>
    <figcaption class="visually-hidden">
      {{ stretches.map(one => `from ${one.from.toFixed(1)} %: ${one.name}`).join('; ') }}
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
text {
  font: 11.5px var(--sans);
  fill: var(--ink);
}
.edge {
  fill: var(--ink-quiet);
  font-size: 10.5px;
}
</style>
