<script setup lang="ts">
import type { ResponseOf } from '#contract/endpoint.ts'
import type { LookAtChange } from '#contract/order/endpoints.ts'
import DifferenceList from '#web/order/DifferenceList.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { amountText } from '#web/shared/words.ts'

/** What a change would do beside the order in force: line by line, to its total and the budgets, and what stands against it. */
defineProps<{ look: ResponseOf<typeof LookAtChange>; currency: string; supplier: string; revision: number }>()
</script>

<template>
  <section class="look" data-test="change-look">
    <h3>Beside revision {{ revision }}</h3>
    <p v-if="look.same" class="quiet">Nothing differs from the order in force.</p>
    <template v-else>
      <DifferenceList v-if="look.differences.length" :differences="look.differences" />
      <p v-if="look.before !== look.after">
        Total <del>{{ amountText(look.before) }}</del> → <b>{{ amountText(look.after) }}</b>
        <span class="unit">{{ currency }}</span>
      </p>
      <p v-for="one in look.moves" :key="one.accountId">
        {{ one.label }}:
        <template v-if="Number(one.committed)"
          >committed <b>{{ amountText(one.committed) }}</b></template
        ><template v-if="Number(one.reserved)"
          ><template v-if="Number(one.committed)">, </template>reserved <b>{{ amountText(one.reserved) }}</b></template
        >;
        <template v-if="one.left !== one.then"
          ><del>{{ amountText(one.left) }}</del> → </template
        ><b>{{ amountText(one.then) }}</b> left
        <span class="unit">{{ look.base }}</span>
      </p>
      <p class="quiet">Once it is made, {{ supplier }} is asked again; what was confirmed has to be confirmed anew.</p>
    </template>
    <ReasonList :reasons="look.reasons" />
  </section>
</template>

<style scoped>
.look {
  border-left: 3px solid var(--kelp);
  padding: 6px 12px;
  margin-top: 14px;
  background: var(--sheet);
}
.look p {
  margin: 4px 0;
}
del {
  color: var(--ink-quiet);
}
</style>
