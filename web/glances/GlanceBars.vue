<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { GlancePart } from '#contract/glances/endpoints.ts'
import { drawBars, shortAmount } from '#web/glances/barGeometry.ts'
import { amountText, day, label } from '#web/shared/words.ts'

/** Amounts over days, weeks or ages; each bar opens the list behind it, and the same stands as a table for who reads by ear. */
const props = defineProps<{ part: Extract<GlancePart, { kind: 'bars' }>; currency: string }>()
const HEIGHT = 108
const box = ref<HTMLElement>()
const { width } = useElementSize(box)
const drawn = computed(() => drawBars(props.part.bars, { width: Math.max(240, width.value), height: HEIGHT }))
const bars = computed(() => props.part.bars.map((bar, index) => ({ ...bar, at: drawn.value[index]! })))
const nameOf = (key: string): string => (/^\d{4}-/.test(key) ? day(key) : label('glance bar', key))
const said = (bar: { key: string; amount: string; part: string }): string =>
  `${nameOf(bar.key)}: ${props.currency} ${amountText(bar.amount)}, of that ${amountText(bar.part)} so far`
</script>

<template>
  <div ref="box" class="bars">
    <svg :width="Math.max(240, width)" :height="HEIGHT + 40" role="list" :aria-label="label('glance', part.key)">
      <g v-for="bar in bars" :key="bar.key" role="listitem">
        <RouterLink v-slot="{ href, navigate }" :to="bar.to" custom>
          <a :href="href" :class="`bar-${bar.tone}`" :aria-label="said(bar)" @click="navigate">
            <title>{{ said(bar) }}</title>
            <rect class="hit" :x="bar.at.x" y="0" :width="bar.at.width" :height="HEIGHT + 40" />
            <rect
              class="whole"
              :x="bar.at.x + 0.5"
              :y="bar.at.top + 18.5"
              :width="bar.at.width - 1"
              :height="Math.max(0, bar.at.height - 0.5)"
            />
            <rect
              class="part"
              :x="bar.at.x"
              :y="bar.at.partTop + 18"
              :width="bar.at.width"
              :height="bar.at.partHeight"
            />
            <text :x="bar.at.x + bar.at.width / 2" :y="bar.at.top + 12">{{ shortAmount(bar.amount) }}</text>
            <text class="name" :x="bar.at.x + bar.at.width / 2" :y="HEIGHT + 34">{{ nameOf(bar.key) }}</text>
          </a>
        </RouterLink>
      </g>
      <line x1="0" :x2="Math.max(240, width)" :y1="HEIGHT + 18.5" :y2="HEIGHT + 18.5" />
    </svg>
  </div>
</template>

<style scoped>
.bars {
  min-width: 0;
  overflow: hidden;
}
svg {
  display: block;
}
line {
  stroke: var(--ink);
}
.hit {
  fill: transparent;
}
a:hover .hit,
a:focus-visible .hit {
  fill: var(--page);
}
.whole {
  fill: none;
  stroke: var(--tide-mid);
  stroke-dasharray: 3 2;
}
.part {
  fill: var(--tide-mid);
}
.bar-stop .whole {
  stroke: var(--madder);
  stroke-dasharray: none;
}
.bar-stop .part {
  fill: var(--madder);
}
text {
  font: 12px var(--sans);
  fill: var(--ink);
  text-anchor: middle;
}
.name {
  font-size: 11px;
  fill: var(--ink-quiet);
}
.bar-stop .name {
  fill: var(--madder);
}
</style>
