<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { scaleLinear, scaleTime } from 'd3-scale'
import { computed, ref } from 'vue'
import { amountText, timeText } from '#web/shared/words.ts'
import { type BidShown, rangeOf, stepsOf } from '#web/source/bidSteps.ts'

/** Bids over time as steps, one line for each supplier with its place at the end; what was taken out is marked. */
const props = defineProps<{
  bids: readonly BidShown[]
  opened: number
  ends: number
  now: number
  standing: readonly { supplierId: string; place: number }[]
  names: (id: string) => string
  currency: string
}>()
const box = ref<HTMLElement>()
const { width: room } = useElementSize(box)
const HEIGHT = 240
const LEFT = 62
const BOTTOM = 24
const RIGHT = 34
const width = computed(() => Math.max(320, room.value))
const last = computed(() => Math.max(props.opened + 60_000, Math.min(props.ends, props.now)))
const x = computed(() =>
  scaleTime([new Date(props.opened), new Date(Math.max(last.value, props.ends))], [LEFT, width.value - RIGHT]),
)
const y = computed(() => scaleLinear(rangeOf(props.bids), [HEIGHT - BOTTOM, 10]))
const DASHES = ['', '6 3', '2 3', '8 3 2 3']
const COLOURS = ['var(--tide)', 'var(--brass)', 'var(--kelp)', 'var(--ink-quiet)', 'var(--tide-deep)']
const lines = computed(() =>
  [...stepsOf(props.bids)].map(([supplierId, steps], index) => {
    const points = steps.map(step => [x.value(step.at), y.value(step.total!)] as const)
    const end = x.value(last.value)
    const path = points
      .map(([px, py], at) => (at === 0 ? `M${px},${py}` : `H${px}V${py}`))
      .concat(`H${Math.max(end, points.at(-1)![0])}`)
      .join('')
    const place = props.standing.find(one => one.supplierId === supplierId)?.place
    return {
      supplierId,
      path,
      y: points.at(-1)![1],
      x: Math.max(end, points.at(-1)![0]),
      place,
      colour: COLOURS[index % COLOURS.length],
      dash: DASHES[Math.floor(index / COLOURS.length) % DASHES.length],
    }
  }),
)
const gone = computed(() => props.bids.filter(bid => bid.out).map(bid => ({ ...bid, x: x.value(Date.parse(bid.at)) })))
const MOST_TICKS = 5
</script>

<template>
  <figure ref="box" class="chart">
    <svg :viewBox="`0 0 ${width} ${HEIGHT}`" :height="HEIGHT" role="img" aria-label="Bids over time">
      <g v-for="tick in y.ticks(MOST_TICKS)" :key="tick">
        <line :x1="LEFT" :x2="width - RIGHT" :y1="y(tick)" :y2="y(tick)" stroke="var(--rule-light)" />
        <text :x="LEFT - 8" :y="y(tick) + 4" text-anchor="end">{{ amountText(String(tick)) }}</text>
      </g>
      <text v-for="tick in x.ticks(MOST_TICKS)" :key="+tick" :x="x(tick)" :y="HEIGHT - 6" text-anchor="middle">
        {{ timeText(tick.toISOString()) }}
      </text>
      <g v-for="bid in gone" :key="bid.id">
        <line :x1="bid.x" :x2="bid.x" y1="10" :y2="HEIGHT - BOTTOM" stroke="var(--madder)" stroke-dasharray="2 3" />
        <text class="out" :x="bid.x + 4" y="20">taken out</text>
      </g>
      <g v-for="line in lines" :key="line.supplierId">
        <path
          :d="line.path"
          fill="none"
          :stroke="line.colour"
          :stroke-dasharray="line.dash"
          :stroke-width="line.place === 1 ? 2.5 : 1.5"
        />
        <circle :cx="line.x" :cy="line.y" r="3" :fill="line.colour" />
        <text v-if="line.place" class="place" :x="line.x + 7" :y="line.y + 4">{{ line.place }}</text>
      </g>
      <line :x1="x(last)" :x2="x(last)" y1="10" :y2="HEIGHT - BOTTOM" stroke="var(--ink)" />
    </svg>
    <figcaption class="visually-hidden">
      {{
        bids
          .map(
            bid =>
              `${timeText(bid.at)} ${names(bid.supplierId)} ${amountText(bid.total)} ${currency}${bid.out ? ', taken out' : ''}`,
          )
          .join('; ')
      }}
    </figcaption>
  </figure>
</template>

<style scoped>
.out {
  fill: var(--madder);
}
.place {
  fill: var(--ink);
  font-weight: 600;
}
</style>
