<script setup lang="ts">
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadOrder } from '#contract/order/endpoints.ts'
import ClauseList from '#web/order/ClauseList.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import { label } from '#web/shared/words.ts'

/** What holds for an order: where it goes, each condition with its origin, and its clauses. */
defineProps<{ sheet: ResponseOf<typeof ReadOrder> }>()
</script>

<template>
  <section class="section">
    <h2>Conditions</h2>
    <p v-if="sheet.locations.length > 1 || sheet.locationId" class="quiet">Goes to {{ sheet.location }}</p>
    <p class="conditions">
      <span v-for="one in sheet.effective" :key="one.key"
        ><span class="quiet">{{ laterLabel('default', one.key) }}</span>
        {{ laterLabel('default value', one.value) || '–' }}
        <small class="quiet">{{ label('from', one.from) }}</small></span
      >
    </p>
  </section>
  <section v-if="sheet.clauses.length" class="section">
    <h2>Clauses</h2>
    <ClauseList :clauses="sheet.clauses" />
  </section>
</template>

<style scoped>
.conditions {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 26px;
}
</style>
