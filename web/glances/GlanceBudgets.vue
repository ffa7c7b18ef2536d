<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import type { GlancePart } from '#contract/glances/endpoints.ts'
import { sumTexts } from '#core/money/text.ts'
import { amountText } from '#web/shared/words.ts'

/** Budgets beside each other: spent, committed and reserved in what was allotted, with a mark for how much of the year has gone. */
const props = defineProps<{ part: Extract<GlancePart, { kind: 'budgets' }>; currency: string }>()
const WIDTH = 320
const rows = computed(() =>
  props.part.rows.map(row => {
    const used = sumTexts([row.spent, row.committed, row.reserved])
    const most = Math.max(Number(row.allotted), Number(used), 1)
    const across = scaleLinear().domain([0, most]).range([0, WIDTH])
    const parts = [
      ['spent', row.spent],
      ['committed', row.committed],
      ['reserved', row.reserved],
    ] as const
    let x = 0
    const drawn = parts.map(([key, amount]) => {
      const width = Math.max(0, across(Number(amount)))
      const at = x
      x += width
      return { key, at, width }
    })
    return {
      ...row,
      drawn,
      frame: across(Number(row.allotted)),
      pace: across((Number(row.allotted) * props.part.pace) / 100),
      left: sumTexts([row.allotted, `-${used}`.replace('--', '')]),
    }
  }),
)
</script>

<template>
  <p class="legend">
    <span><i class="spent" />spent</span><span><i class="committed" />committed</span
    ><span><i class="reserved" />reserved</span><span><i class="pace" />{{ part.pace }} % of the year</span>
  </p>
  <div v-for="row in rows" :key="row.title" class="row">
    <RouterLink :to="row.to">{{ row.title }}</RouterLink>
    <svg
      :width="WIDTH"
      height="16"
      role="img"
      :aria-label="`${row.title}: ${amountText(row.left)} ${currency} left of ${amountText(row.allotted)}`"
    >
      <rect v-for="one in row.drawn" :key="one.key" :class="one.key" :x="one.at" y="2" :width="one.width" height="12" />
      <rect class="frame" x="0.5" y="1.5" :width="Math.max(1, row.frame - 1)" height="13" />
      <line class="pace" :x1="row.pace" :x2="row.pace" y1="0" y2="16" />
    </svg>
    <span class="num" :class="{ 'tone-stop': row.left.startsWith('-') }"
      >{{ amountText(row.left) }} <small class="unit">left</small></span
    >
  </div>
</template>

<style scoped>
.legend {
  display: flex;
  gap: 16px;
  font-size: 11.5px;
  color: var(--ink-quiet);
  margin-bottom: 8px;
}
.legend i {
  display: inline-block;
  width: 12px;
  height: 9px;
  margin-right: 5px;
}
.legend .pace {
  width: 2px;
  height: 12px;
  background: var(--ink);
  vertical-align: -2px;
}
.row {
  display: grid;
  grid-template-columns: minmax(120px, 230px) 320px 130px;
  gap: 14px;
  align-items: center;
  padding: 4px 0;
}
.row a {
  color: var(--ink);
}
.spent {
  fill: var(--tide);
  background: var(--tide);
}
.committed {
  fill: var(--tide-mid);
  background: var(--tide-mid);
}
.reserved {
  fill: var(--tide-light);
  background: var(--tide-light);
}
.frame {
  fill: none;
  stroke: var(--ink);
}
line.pace {
  stroke: var(--ink);
  stroke-width: 2;
}
@media (max-width: 1000px) {
  .row {
    grid-template-columns: 1fr auto;
  }
  .row svg {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
