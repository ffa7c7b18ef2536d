<script setup lang="ts">
import { computed } from 'vue'
import { label } from '#web/shared/words.ts'

/** How far an onboarding has come. */
const props = defineProps<{ state: string }>()
const STEPS = ['proposed', 'invited', 'answering', 'submitted', 'deciding', 'accepted']
const now = computed(() => STEPS.indexOf(props.state === 'askedBack' ? 'answering' : props.state))
</script>

<template>
  <ol class="way" aria-label="The way of an onboarding">
    <li v-for="(step, index) in STEPS" :key="step" :class="{ now: index === now, done: index < now }">
      {{ label('state', step === 'accepted' ? 'approved' : step) }}
    </li>
  </ol>
</template>

<style scoped>
.way {
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 0;
  margin: 18px 0 0;
  padding: 0;
  font-size: 12.3px;
  color: var(--ink-quiet);
}
.way li {
  padding: 0 9px 0 0;
}
.way li:not(:last-child)::after {
  content: '—';
  margin-left: 9px;
  color: var(--rule);
}
.way .done {
  color: var(--kelp);
}
.way .done::before {
  content: '✓ ';
}
.way .now {
  color: var(--ink);
  font-weight: 600;
  text-decoration: underline;
  text-decoration-color: var(--tide);
  text-decoration-thickness: 2px;
  text-underline-offset: 5px;
}
</style>
