<script setup lang="ts">
import { computed } from 'vue'
import type { StepJson } from '#contract/fields.ts'
import { amountText, label } from '#web/shared/words.ts'

/**
 * One decision beside a Sheet: who takes it, because of which rules; opened, the facts that made them apply, and
 * who is not asked and why.
 */
const props = defineProps<{ step: StepJson }>()
const MARKS: Readonly<Record<string, string>> = {
  approved: '✓',
  rejected: '✕',
  returned: '↩',
  open: '…',
  later: '·',
  dropped: '–',
}
const rules = computed(() =>
  props.step.rules.map(rule => `${rule.name}${rule.costCentre ? `, ${rule.costCentre}` : ''}`).join('; '),
)
const notes = computed(() =>
  props.step.approvers
    .filter(one => one.because !== 'rule' && one.because !== 'chain')
    .map(one => `${label('because', one.because)} ${one.of}`.trim()),
)
const facts = computed(() =>
  props.step.rules.flatMap(rule => [
    ...(rule.measured === null ? [] : [`${rule.name}: ${amountText(rule.measured)}`]),
    ...rule.evidence.map(one => `${label('rule fact', one.fact)} ${one.not ? 'not' : ''} ${one.values.join(', ')}`),
  ]),
)
</script>

<template>
  <div class="step">
    <span
      :class="{
        'tone-settled': step.state === 'approved',
        'tone-stop': step.state === 'rejected' || step.stalled,
        'tone-attention': step.state === 'open' || step.state === 'returned',
      }"
      >{{ MARKS[step.state] ?? '·' }}</span
    >
    <div>
      {{ step.approvers.map(one => one.name).join(' or ') }}
      <span class="quiet">{{ [rules, ...notes].filter(Boolean).join(', ') }}</span>
      <span v-if="step.decidedBy" class="quiet">
        decided by {{ step.decidedBy }}{{ step.inPlaceOf ? ` in place of ${step.inPlaceOf}` : '' }}</span
      >
      <span v-if="step.stall" class="tone-stop"> {{ label('stall', step.stall) }}</span>
      <span v-if="step.reason" class="said">“{{ step.reason }}”</span>
      <details v-if="facts.length || step.leftOut.length">
        <summary>why</summary>
        <p v-for="fact in facts" :key="fact">{{ fact }}</p>
        <p v-for="one in step.leftOut" :key="one.name + one.rule + one.why">
          Not {{ one.name }} for “{{ one.rule }}”: {{ label('left out', one.why) }}
        </p>
      </details>
    </div>
  </div>
</template>

<style scoped>
.step {
  display: grid;
  grid-template-columns: 18px 1fr;
  padding: 2px 0;
}
.said {
  color: var(--ink-quiet);
  font-style: italic;
  display: block;
}
summary {
  cursor: pointer;
  color: var(--tide);
  padding: 3px 0;
}
details p {
  color: var(--ink-quiet);
}
</style>
