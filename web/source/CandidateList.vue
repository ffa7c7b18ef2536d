<script setup lang="ts">
import type { CandidateJson } from '#contract/source/endpoints.ts'
import { label, words } from '#web/shared/words.ts'

/** Records that may be the one that is meant: how sure, and what speaks for and against it. */
defineProps<{ candidates: readonly CandidateJson[] }>()
const tone = (percent: number): string => (percent >= 85 ? 'tone-stop' : percent >= 60 ? 'tone-attention' : 'quiet')
</script>

<template>
  <ol class="candidates" aria-label="Records that are there already">
    <li v-for="one in candidates" :key="one.id" :data-test="`candidate-${one.number}`">
      <p class="top">
        <RouterLink :to="`/source/${one.id}`" target="_blank"
          ><b>{{ one.name }}</b></RouterLink
        ><strong :class="tone(one.percent)">{{ one.percent }} %</strong>
      </p>
      <p class="quiet where">
        {{ [one.number, one.city, one.country].filter(Boolean).join(', ')
        }}<template v-if="one.state !== 'active'">, {{ label('state', one.state) }}</template
        ><template v-if="one.tradeNames.length">, trades as {{ one.tradeNames.join(', ') }}</template>
      </p>
      <span class="meter" aria-hidden="true"
        ><i :style="{ width: `${one.percent}%` }" :class="tone(one.percent)"
      /></span>
      <p class="why">
        <span
          v-for="reason in one.reasons"
          :key="reason.code"
          :class="reason.for ? 'for' : 'against'"
          :title="`${reason.bits} bits`"
          >{{ reason.for ? '+' : '−' }} {{ words(reason) }}</span
        >
      </p>
    </li>
  </ol>
</template>

<style scoped>
.candidates {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 10px 0 12px;
  border-bottom: 1px solid var(--rule-light);
}
.top {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: baseline;
}
.top strong {
  font-size: 17px;
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
.where {
  font-size: 12.3px;
}
.meter {
  display: block;
  height: 3px;
  background: var(--rule-light);
  margin: 5px 0 6px;
}
.meter i {
  display: block;
  height: 100%;
  background: currentcolor;
}
.why {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  font-size: 12.3px;
}
.for {
  color: var(--ink);
}
.against {
  color: var(--ink-quiet);
}
</style>
