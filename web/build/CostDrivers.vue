<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import type { ShownCosting } from '#web/build/costingWorker.ts'
import { amountText, words } from '#web/shared/words.ts'

/** The parts that make up most of the cost, the dearest first, and what is bought beyond the need. */
const props = defineProps<{ shown: ShownCosting; currency: string }>()
const emit = defineEmits<{ open: [part: number] }>()
const rows = computed(() =>
  props.shown.drivers.map(one => {
    const row = props.shown.rows[one.part]!
    return { ...one, name: row.name, reason: row.notes.find(note => note.code === 'build.minimumDrives') }
  }),
)
const bar = computed(() => scaleLinear([0, Math.max(1, rows.value[0]?.share ?? 1)], [0, 100]))
const rest = computed(() => {
  const share = rows.value.reduce((sum, one) => sum + one.share, 0)
  return {
    parts: Math.max(0, props.shown.rows.filter(row => row.buy !== '0').length - rows.value.length),
    share: Math.max(0, 100 - share),
  }
})
</script>

<template>
  <section data-test="cost-drivers">
    <h2>What drives it</h2>
    <ol>
      <li v-for="one in rows" :key="one.part">
        <span class="head"
          ><a href="#" @click.prevent="emit('open', one.part)">{{ one.name }}</a
          ><span class="num">{{ one.share }} %</span></span
        >
        <span class="track"
          ><span class="fill" :class="{ minimum: one.reason }" :style="{ width: `${bar(one.share)}%` }"
        /></span>
        <small v-if="one.reason" class="tone-attention">{{ words(one.reason) }}</small>
      </li>
      <li v-if="rest.parts > 0" class="quiet">
        <span class="head"
          >{{ rest.parts }} others<span class="num">{{ rest.share.toFixed(1) }} %</span></span
        >
        <span class="track"><span class="fill" :style="{ width: `${Math.min(100, bar(rest.share))}%` }" /></span>
      </li>
    </ol>
    <p v-if="shown.excesses.length" class="quiet" data-test="cost-excess">
      {{ currency }} {{ amountText(shown.figures.excess) }} of all this is excess,
      {{ amountText(shown.excesses[0]!.amount) }} of it {{ shown.rows[shown.excesses[0]!.part]!.name }}.
    </p>
  </section>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
li {
  margin-bottom: 7px;
}
.head {
  display: flex;
  justify-content: space-between;
  gap: 12px;
}
.head a {
  color: inherit;
}
.track {
  display: block;
  height: 5px;
  background: var(--rule-light);
}
.fill {
  display: block;
  height: 100%;
  background: var(--tide);
  opacity: 0.6;
}
.fill.minimum {
  background: var(--brass);
  opacity: 1;
}
</style>
