<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { scaleLinear, scalePoint } from 'd3-scale'
import { line } from 'd3-shape'
import { computed, ref } from 'vue'
import type { PlanOutcome, PlanRow } from '#web/award/planText.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { amountText } from '#web/shared/words.ts'

/** What the best plan costs with at most so many suppliers; the chosen plan and the one made by hand are marked. */
const props = defineProps<{ outcome: PlanOutcome; row: PlanRow | null }>()
const box = ref<HTMLElement>()
const { width: room } = useElementSize(box)
const HEIGHT = 190
const LEFT = 58
const BOTTOM = 24
const TOP = 14
const RIGHT = 16
const TICKS = 4
const width = computed(() => Math.max(260, room.value))
const points = computed(() =>
  props.outcome.curve.flatMap(one => (one.cost === null ? [] : [{ suppliers: one.suppliers, cost: Number(one.cost) }])),
)
const hand = computed(() => props.outcome.rows.find(one => one.key === 'byHand'))
const marked = computed(() =>
  [props.row, hand.value].flatMap((one, index) =>
    one && (index === 0 || one.key !== props.row?.key)
      ? [{ key: one.key, suppliers: one.suppliers.length, cost: Number(one.cost) }]
      : [],
  ),
)
const counts = computed(() =>
  [...new Set([...props.outcome.curve, ...marked.value].map(one => one.suppliers))].sort((a, b) => a - b),
)
const x = computed(() => scalePoint(counts.value, [LEFT, width.value - RIGHT]).padding(0.4))
const y = computed(() => {
  const costs = [...points.value, ...marked.value].map(one => one.cost)
  const [least, most] = [Math.min(...costs), Math.max(...costs)]
  const space = Math.max((most - least) * 0.15, most * 0.002)
  return scaleLinear([least - space, most + space], [HEIGHT - BOTTOM, TOP])
})
const path = computed(
  () =>
    line<{ suppliers: number; cost: number }>(
      one => x.value(one.suppliers)!,
      one => y.value(one.cost),
    )(points.value) ?? '',
)
/** Both marks stand at nearly the same place: one is named below. */
const NEAR = 24
const near = computed(
  () => marked.value.length > 1 && Math.abs(y.value(marked.value[0]!.cost) - y.value(marked.value[1]!.cost)) < NEAR,
)
const CROSS = 4
</script>

<template>
  <section>
    <h2>Cost by number of suppliers</h2>
    <figure v-if="points.length" ref="box" class="chart">
      <svg :viewBox="`0 0 ${width} ${HEIGHT}`" :height="HEIGHT" role="img" aria-label="Cost by number of suppliers">
        <g v-for="tick in y.ticks(TICKS)" :key="tick">
          <line :x1="LEFT" :x2="width" :y1="y(tick)" :y2="y(tick)" stroke="var(--rule-light)" />
          <text :x="LEFT - 8" :y="y(tick) + 4" text-anchor="end">{{ amountText(String(tick)) }}</text>
        </g>
        <text v-for="count in counts" :key="count" :x="x(count)" :y="HEIGHT - 6" text-anchor="middle">{{ count }}</text>
        <path :d="path" fill="none" stroke="var(--tide)" stroke-width="1.5" />
        <circle
          v-for="one in points"
          :key="one.suppliers"
          :cx="x(one.suppliers)"
          :cy="y(one.cost)"
          r="3"
          fill="var(--tide)"
        />
        <template v-for="one in marked" :key="one.key">
          <g v-if="one.key === 'byHand'" stroke="var(--madder)">
            <line
              :x1="x(one.suppliers)! - CROSS"
              :x2="x(one.suppliers)! + CROSS"
              :y1="y(one.cost) - CROSS"
              :y2="y(one.cost) + CROSS"
            />
            <line
              :x1="x(one.suppliers)! - CROSS"
              :x2="x(one.suppliers)! + CROSS"
              :y1="y(one.cost) + CROSS"
              :y2="y(one.cost) - CROSS"
            />
          </g>
          <circle v-else :cx="x(one.suppliers)" :cy="y(one.cost)" r="5.5" fill="var(--tide)" />
          <text
            class="mark"
            :class="{ hand: one.key === 'byHand' }"
            :x="x(one.suppliers)! + (x(one.suppliers)! > width - 90 ? -9 : 9)"
            :y="y(one.cost) + (one.key === 'byHand' && near ? 18 : -8)"
            :text-anchor="x(one.suppliers)! > width - 90 ? 'end' : 'start'"
          >
            {{ one.key === 'byHand' ? 'by hand' : 'this plan' }}
          </text>
        </template>
      </svg>
      <figcaption class="visually-hidden">
        {{ points.map(one => `${one.suppliers}: ${amountText(String(one.cost))}`).join('; ') }};
        {{
          marked
            .map(one => `${laterLabel('plan row', one.key)}: ${one.suppliers}, ${amountText(String(one.cost))}`)
            .join('; ')
        }}
      </figcaption>
    </figure>
  </section>
</template>

<style scoped>
.mark {
  fill: var(--tide);
  font-weight: 600;
}
.hand {
  fill: var(--madder);
}
</style>
