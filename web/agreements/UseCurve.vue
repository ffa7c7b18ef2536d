<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { scaleLinear, scaleTime } from 'd3-scale'
import { curveStepAfter, line } from 'd3-shape'
import { computed, ref } from 'vue'
import { type Agreement, ceilingName, takenText } from '#web/agreements/agreementText.ts'
import { amountText, day } from '#web/shared/words.ts'

/** How much was called off over the agreement's time, where its ceiling lies, and when it is reached at the pace of the last half year. */
const props = defineProps<{ sheet: Agreement; today: string }>()
const box = ref<HTMLElement>()
const { width: room } = useElementSize(box)
const HEIGHT = 170
const [LEFT, RIGHT, TOP, BOTTOM] = [66, 14, 16, 22]
const width = computed(() => Math.max(280, room.value))
const at = (text: string): Date => new Date(`${text}T00:00:00Z`)
const whole = computed(() => props.sheet.uses.find(use => use.scope === 'whole' && use.amount !== ''))
const ceiling = computed(() => Number(whole.value?.amount ?? 0))
const x = computed(() =>
  scaleTime([at(props.sheet.content.startsOn), at(props.sheet.content.endsOn)], [LEFT, width.value - RIGHT]).clamp(
    true,
  ),
)
const points = computed(() => {
  const { startsOn, endsOn } = props.sheet.content
  const until = props.today < endsOn ? props.today : endsOn
  const all = props.sheet.points.map(one => ({
    day: one.day < startsOn ? startsOn : one.day,
    total: Number(one.total),
  }))
  return [{ day: startsOn, total: 0 }, ...all, { day: until, total: all.at(-1)?.total ?? 0 }]
})
const y = computed(() =>
  scaleLinear([0, Math.max(1, ceiling.value, ...points.value.map(one => one.total)) * 1.08], [HEIGHT - BOTTOM, TOP]),
)
const path = computed(
  () =>
    line<{ day: string; total: number }>(
      one => x.value(at(one.day)),
      one => y.value(one.total),
    ).curve(curveStepAfter)(points.value) ?? '',
)
/** From today to the day on which the ceiling is reached, cut at the end of the agreement. */
const ahead = computed(() => {
  const use = whole.value
  const last = points.value.at(-1)!
  if (!use?.usedUpOn || use.usedUpOn <= props.today || last.total >= ceiling.value) return undefined
  const { endsOn } = props.sheet.content
  const days = (at(use.usedUpOn).getTime() - at(last.day).getTime()) / 86_400_000
  const left = (at(endsOn).getTime() - at(last.day).getTime()) / 86_400_000
  const share = Math.min(1, left / days)
  return { total: last.total + (ceiling.value - last.total) * share, day: share < 1 ? endsOn : use.usedUpOn }
})
const text = computed(() => props.sheet.points.map(one => `${day(one.day)}: ${amountText(one.total)}`).join('; '))
const ticks = computed(() => y.value.ticks(4))
const bars = computed(() =>
  props.sheet.uses.map(use => {
    const most = Math.max(100, Number(use.percent))
    const share = (kind: 'reserved' | 'committed' | 'used'): number => {
      const part = use.byKind[kind]!
      const [own, all] = use.amount === '' ? [part.quantity, use.quantity] : [part.amount, use.amount]
      return (Number(own) / Number(all) / most) * 10_000
    }
    return { use, used: share('used'), committed: share('committed'), reserved: share('reserved'), mark: 10_000 / most }
  }),
)
</script>

<template>
  <section class="section" data-test="agreement-use">
    <h2>
      What is called off
      <small class="quiet"
        >{{ sheet.content.currency }} {{ amountText(sheet.consumed)
        }}<template v-if="Number(sheet.saved) > 0"
          >; saved against the list {{ amountText(sheet.saved) }}</template
        ></small
      >
    </h2>
    <figure ref="box" class="chart">
      <svg :viewBox="`0 0 ${width} ${HEIGHT}`" :height="HEIGHT" role="img" aria-label="What is called off, over time">
        <g v-for="tick in ticks" :key="tick">
          <line :x1="LEFT" :x2="width - RIGHT" :y1="y(tick)" :y2="y(tick)" stroke="var(--rule-light)" />
          <text :x="LEFT - 8" :y="y(tick) + 4" text-anchor="end">{{ amountText(String(tick)) }}</text>
        </g>
        <text :x="LEFT" :y="HEIGHT - 6">{{ day(sheet.content.startsOn) }}</text>
        <text :x="width - RIGHT" :y="HEIGHT - 6" text-anchor="end">{{ day(sheet.content.endsOn) }}</text>
        <g v-if="whole">
          <line :x1="LEFT" :x2="width - RIGHT" :y1="y(ceiling)" :y2="y(ceiling)" stroke="var(--brass)" />
          <text :x="LEFT + 6" :y="y(ceiling) - 4" class="limit">ceiling {{ amountText(whole.amount) }}</text>
        </g>
        <path :d="path" fill="none" stroke="var(--tide)" stroke-width="1.8" />
        <line
          v-if="ahead"
          :x1="x(at(points.at(-1)!.day))"
          :y1="y(points.at(-1)!.total)"
          :x2="x(at(ahead.day))"
          :y2="y(ahead.total)"
          stroke="var(--tide)"
          stroke-dasharray="4 4"
        />
        <line
          v-if="today > sheet.content.startsOn && today < sheet.content.endsOn"
          :x1="x(at(today))"
          :x2="x(at(today))"
          :y1="TOP"
          :y2="HEIGHT - BOTTOM"
          stroke="var(--rule)"
        />
      </svg>
      <figcaption class="visually-hidden">{{ text || 'Nothing yet.' }}</figcaption>
    </figure>
    <ul class="uses">
      <li v-for="{ use, ...bar } in bars" :key="use.scope + use.of" :class="{ full: use.full }">
        <b>{{ ceilingName(use) }}</b>
        <span
          class="bar-of"
          :title="`reserved ${use.byKind.reserved!.amount}, committed ${use.byKind.committed!.amount}, used ${use.byKind.used!.amount}`"
          ><i class="used" :style="{ width: `${bar.used}%` }" /><i
            class="committed"
            :style="{ width: `${bar.committed}%` }" /><i class="reserved" :style="{ width: `${bar.reserved}%` }" /><i
            v-if="bar.mark < 100"
            class="mark"
            :style="{ left: `${bar.mark}%` }"
        /></span>
        <span class="figures"
          >{{ takenText(use, sheet.content.currency) }},
          <b :class="{ 'tone-attention': use.full }">{{ use.percent }} %</b
          ><template v-if="use.usedUpOn && !use.full"
            >; at this pace used up on {{ day(use.usedUpOn)
            }}<template v-if="use.usedUpOn > sheet.content.endsOn">, after its end</template></template
          ></span
        >
      </li>
    </ul>
    <p v-if="bars.length" class="quiet keys">
      <i class="used" /> used by bills <i class="committed" /> committed by orders <i class="reserved" /> reserved by
      requests
    </p>
  </section>
</template>

<style scoped>
.limit {
  fill: var(--brass);
}
.uses {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
.uses li {
  display: grid;
  grid-template-columns: minmax(120px, 200px) minmax(120px, 1fr) minmax(0, 2fr);
  gap: 12px;
  align-items: center;
  padding: 3px 0;
}
.uses li > b {
  font-weight: 600;
}
.bar-of {
  position: relative;
  display: flex;
  height: 9px;
  border: 1px solid var(--rule);
}
.bar-of i {
  display: block;
  height: 100%;
}
i.used {
  background: var(--tide);
}
i.committed {
  background: color-mix(in srgb, var(--tide) 45%, var(--sheet));
}
i.reserved {
  background: repeating-linear-gradient(45deg, var(--tide) 0 1.5px, var(--sheet) 1.5px 4px);
}
.bar-of i.mark {
  position: absolute;
  top: -3px;
  height: 13px;
  border-left: 2px solid var(--madder);
}
.keys {
  font-size: 11.5px;
  margin-top: 6px;
}
.keys i {
  display: inline-block;
  width: 14px;
  height: 8px;
  margin: 0 3px 0 10px;
}
.keys i:first-child {
  margin-left: 0;
}
</style>
