<script setup lang="ts">
import { t } from '#web/shared/language.ts'

/** The clauses of an order: name and version, what they are for, and their text when it is opened. */
defineProps<{
  clauses: readonly { clauseId: string; version: number; name: string; text: string; because: readonly string[] }[]
}>()
</script>

<template>
  <details v-for="one in clauses" :key="one.clauseId" class="clause" :data-test="`clause-${one.name}`">
    <summary>
      {{ t('{name}, version {version}', { name: one.name, version: one.version })
      }}<small v-if="one.because.length" class="quiet"> {{ one.because.join(', ') }}</small>
    </summary>
    <p>{{ one.text }}</p>
  </details>
</template>

<style scoped>
.clause {
  border-top: 1px solid var(--rule-light);
  padding: 4px 0;
}
.clause summary {
  cursor: pointer;
}
.clause p {
  white-space: pre-line;
  margin: 4px 0 6px 16px;
  max-width: 70ch;
}
</style>
