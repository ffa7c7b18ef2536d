<script setup lang="ts">
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadAsked } from '#contract/source/asked.ts'
import { t } from '#web/shared/language.ts'
import { amountText, quantityText, unit } from '#web/shared/words.ts'

/** How it ended, as far as this supplier may learn. */
defineProps<{ asked: ResponseOf<typeof ReadAsked> }>()
</script>

<template>
  <section class="outcome" data-test="outcome">
    <template v-if="asked.outcome!.won.length"
      ><h2>{{ t('We buy from you') }}</h2>
      <p v-for="one in asked.outcome!.won" :key="one.lineId">
        {{ asked.lines.find(line => line.id === one.lineId)?.description }}: {{ quantityText(one.quantity) }}
        {{ unit(asked.lines.find(line => line.id === one.lineId)?.unit ?? '') }}
      </p></template
    >
    <h2 v-else>{{ t('This time we buy elsewhere') }}</h2>
    <p v-if="asked.outcome!.place">{{ t('By cost you are number {place}.', { place: asked.outcome!.place }) }}</p>
    <p v-if="asked.outcome!.winningPrice">
      {{ t('It goes for {price} in all.', { price: amountText(asked.outcome!.winningPrice) }) }}
    </p>
  </section>
</template>

<style scoped>
.outcome {
  margin: 12px 0;
  padding: 10px 14px;
  border: 1px solid var(--rule);
}
</style>
