<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadOrder } from '#contract/order/endpoints.ts'
import { amountText, since } from '#web/shared/words.ts'

/** What an order costs above what was approved: who asked for it and why, up to what, and what was answered. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadOrder> }>()
const emit = defineEmits<{ make: [] }>()
const excess = computed(() => props.sheet.excess!)
const OUTCOME: Readonly<Record<string, string>> = {
  open: 'It waits for a decision.',
  given: 'It may cost that.',
  withdrawn: 'The question was taken back.',
  dropped: 'The order was changed since, so nobody decides about it any more.',
}
</script>

<template>
  <section class="excess" :class="excess.state" data-test="excess">
    <p>
      {{ excess.askedBy }} asked {{ since(excess.askedAt) }} for
      <b>{{ excess.currency }} {{ amountText(excess.amount) }}</b> above what was approved: “{{ excess.reason }}”
      <template v-if="excess.answer"
        ><b class="tone-stop">{{ excess.answer.who }} said no</b>: “{{ excess.answer.reason }}”</template
      >
      <b v-else :class="{ 'tone-settled': excess.state === 'given', 'tone-attention': excess.state === 'open' }">{{
        OUTCOME[excess.state]
      }}</b>
    </p>
    <p v-for="line in excess.lines" :key="line.id" class="quiet">
      Line {{ line.position }}: approved {{ amountText(line.approved) }}, asked for up to
      <b>{{ amountText(line.upTo) }}</b> {{ excess.currency }}
    </p>
    <ElButton
      v-if="excess.wanted && excess.state === 'given'"
      size="small"
      type="primary"
      data-test="make-asked"
      @click="emit('make')"
      >Make the change as it was asked for</ElButton
    >
  </section>
</template>

<style scoped>
.excess {
  border-left: 3px solid var(--rule);
  padding: 6px 12px;
  margin-top: 12px;
  background: var(--paper);
}
.excess.open {
  border-color: var(--brass);
}
.excess.given {
  border-color: var(--kelp);
}
.excess.refused {
  border-color: var(--madder);
}
</style>
