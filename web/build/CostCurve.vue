<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'
import { computed, ref } from 'vue'
import type { ShownCurve } from '#web/build/costingWorker.ts'
import { amountText, priceText } from '#web/shared/words.ts'

/** What one build costs, by how many are built; the number wanted is marked, and those near it at which each costs less. */
const props = defineProps<{ curve: ShownCurve; builds: number; currency: string }>()
const emit = defineEmits<{ choose: [builds: number] }>()
const box = ref<HTMLElement>()
const { width: room } = useElementSize(box)
const HEIGHT = 196
const [LEFT, RIGHT, TOP, BOTTOM] = [62, 12, 14, 22]
const TICKS = 4
const width = computed(() => Math.max(280, room.value))
const end = computed(() => props.curve.each.length)
const x = computed(() => scaleLinear([1, Math.max(2, end.value)], [LEFT, width.value - RIGHT]))
/** A few first builds may cost many times as much as all others: the picture is cut there, and says so. */
const most = computed(() => {
  const sorted = [...props.curve.each].sort((a, b) => a - b)
  const own = props.curve.each[props.builds - 1] ?? 0
  return Math.max(sorted[Math.floor(sorted.length * 0.94)] ?? 1, own) * 1.04
})
const y = computed(() => {
  const least = Math.min(...props.curve.each)
  return scaleLinear([least - (most.value - least) * 0.08, most.value], [HEIGHT - BOTTOM, TOP]).clamp(true)
})
const path = computed(
  () =>
    line<number>(
      (_each, at) => x.value(at + 1),
      each => y.value(each),
    )(props.curve.each) ?? '',
)
const own = computed(() => props.curve.each[props.builds - 1])
const marks = computed(() =>
  props.curve.better.map(one => ({ ...one, x: x.value(one.builds), y: y.value(props.curve.each[one.builds - 1]!) })),
)
function chosen(event: MouseEvent): void {
  const at = (event.offsetX / (event.currentTarget as SVGElement).clientWidth) * width.value
  const builds = Math.round(x.value.invert(at))
  if (builds >= 1 && builds <= end.value) emit('choose', builds)
}
const text = computed(() => {
  const points = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000].filter(at => at <= end.value)
  return points.map(at => `${at}: ${amountText(props.curve.each[at - 1]!.toFixed(2))}`).join('; ')
})
</script>

<template>
  <section data-test="cost-curve">
    <h2>
      What one build costs <small class="quiet">{{ currency }}, by how many are built</small>
    </h2>
    <figure ref="box" class="chart">
      <svg
        :viewBox="`0 0 ${width} ${HEIGHT}`"
        :height="HEIGHT"
        role="img"
        aria-label="What one build costs, by how many are built"
        @click="chosen"
      >
        <g v-for="tick in y.ticks(TICKS)" :key="tick">
          <line :x1="LEFT" :x2="width - RIGHT" :y1="y(tick)" :y2="y(tick)" stroke="var(--rule-light)" />
          <text :x="LEFT - 8" :y="y(tick) + 4" text-anchor="end">{{ amountText(String(tick)) }}</text>
        </g>
        <text
          v-for="tick in x.ticks(5).filter(one => one >= 1)"
          :key="`x${tick}`"
          :x="x(tick)"
          :y="HEIGHT - 6"
          text-anchor="middle"
        >
          {{ tick }}
        </text>
        <path :d="path" fill="none" stroke="var(--tide)" stroke-width="1.5" />
        <g v-if="own !== undefined">
          <line :x1="x(builds)" :x2="x(builds)" :y1="TOP" :y2="HEIGHT - BOTTOM" stroke="var(--ink)" />
          <circle :cx="x(builds)" :cy="y(own)" r="4" fill="var(--tide)" />
          <text
            class="own"
            :x="x(builds) + (x(builds) > width - 90 ? -7 : 7)"
            :y="TOP + 9"
            :text-anchor="x(builds) > width - 90 ? 'end' : 'start'"
          >
            {{ builds }} {{ builds === 1 ? 'build' : 'builds' }}
          </text>
        </g>
        <circle v-for="one in marks" :key="one.builds" :cx="one.x" :cy="one.y" r="3.5" fill="var(--brass)" />
      </svg>
      <figcaption class="visually-hidden">{{ text }}</figcaption>
    </figure>
    <p v-if="marks.length" class="better" data-test="better-builds">
      <template v-for="(one, at) in marks" :key="one.builds"
        ><template v-if="at">; </template>at
        <a href="#" @click.prevent="emit('choose', one.builds)"
          ><b>{{ one.builds }}</b></a
        >
        instead of {{ builds }} each costs {{ one.percent }} % less</template
      >.
    </p>
    <details v-if="curve.steps.length">
      <summary>Steps of the curve</summary>
      <ul>
        <li v-for="step in curve.steps" :key="step.builds">
          from {{ step.builds - 1 }} to <a href="#" @click.prevent="emit('choose', step.builds)">{{ step.builds }}</a>:
          {{ priceText(step.more) }} {{ currency }} {{ step.more.startsWith('-') ? 'less' : 'more' }} in all, by
          {{ step.parts.join(', ') }}
        </li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
svg {
  cursor: crosshair;
}
.own {
  fill: var(--ink);
  font-weight: 600;
}
.better {
  margin: 4px 0 0;
  color: var(--brass);
}
details {
  margin-top: 6px;
}
ul {
  margin: 4px 0;
  padding-left: 18px;
}
</style>
