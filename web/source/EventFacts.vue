<script setup lang="ts">
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadEvent } from '#contract/source/events.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { momentIn } from '#web/source/eventMoment.ts'

/** Beside the Sheet: how this kind of event works, and how it is judged. */
defineProps<{ sheet: ResponseOf<typeof ReadEvent> }>()
</script>

<template>
  <section class="facts">
    <h3>How it works</h3>
    <dl>
      <template v-if="sheet.body.opensAt"
        ><dt>opens</dt>
        <dd>{{ momentIn(sheet.body.opensAt, sheet.body.zone) }}</dd></template
      >
      <template v-if="sheet.body.endsAt"
        ><dt>{{ sheet.state === 'draft' || sheet.sentAt ? 'ends' : 'as of' }}</dt>
        <dd data-test="ends">{{ momentIn(sheet.body.endsAt, sheet.body.zone) }}</dd></template
      >
      <dt>answers</dt>
      <dd>{{ sheet.settings.sealed ? 'sealed until the end' : 'read as they come in' }}</dd>
      <dt>price</dt>
      <dd>{{ laterLabel('event price', sheet.settings.pricing) }}</dd>
      <dt>parts of a quantity</dt>
      <dd>{{ sheet.settings.partQuantity ? 'may be offered' : 'are not offered' }}</dd>
      <dt>alternatives</dt>
      <dd>{{ sheet.settings.alternatives ? 'may be offered' : 'are not asked for' }}</dd>
      <dt>others learn</dt>
      <dd>{{ laterLabel('event tells', sheet.settings.tells) }}</dd>
    </dl>
    <h3>How it is judged</h3>
    <dl>
      <template v-for="one in sheet.body.criteria" :key="one.key"
        ><dt>{{ laterLabel('criterion', one.key) }}</dt>
        <dd>{{ one.weight }} %</dd></template
      >
      <template v-if="sheet.scorers.length"
        ><dt>scored by</dt>
        <dd>{{ sheet.scorers.map(one => one.name + (one.done ? ' ✓' : '')).join(', ') }}</dd></template
      >
    </dl>
    <p class="quiet">{{ laterLabel('price formula', sheet.body.formula) }}</p>
  </section>
</template>

<style scoped>
.facts h3 {
  margin: 12px 0 4px;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 3px 12px;
  margin: 0;
}
dt {
  color: var(--ink-quiet);
}
dd {
  margin: 0;
  text-align: right;
}
</style>
