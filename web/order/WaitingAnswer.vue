<script setup lang="ts">
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadOrder } from '#contract/order/endpoints.ts'
import DifferenceList from '#web/order/DifferenceList.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import { day, since } from '#web/shared/words.ts'

/** A supplier's answer that differs and waits for the buyer; where one of us typed it in, who said it. */
defineProps<{ supplier: string; answer: ResponseOf<typeof ReadOrder>['responses'][number] }>()
</script>

<template>
  <section class="answer">
    <h3>{{ supplier }} answered {{ since(answer.at) }}</h3>
    <p v-if="answer.told" class="quiet" data-test="told">
      {{ answer.told.who }} said so on {{ day(answer.told.on) }}, {{ laterLabel('consent by', answer.told.how) }}. Typed
      in by {{ answer.by }}.
    </p>
    <DifferenceList :differences="answer.differences" />
    <p v-if="answer.note" class="quiet">“{{ answer.note }}”</p>
  </section>
</template>

<style scoped>
.answer {
  border-left: 3px solid var(--brass);
  padding: 6px 12px;
  margin-top: 12px;
  background: #fbf3df;
}
</style>
