<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { Pending } from '#web/decide/pending.ts'
import { label, since, words } from '#web/shared/words.ts'

/** Decisions that have not reached the server, and those that it refused when they did. */
defineProps<{ waiting: readonly Pending[]; refused: readonly Pending[] }>()
const emit = defineEmits<{ forget: [key: string] }>()
</script>

<template>
  <section v-if="waiting.length || refused.length" class="pending" aria-label="Not sent" role="status">
    <p v-for="one in waiting" :key="one.key" data-test="pending-decision">
      <b class="tone-attention">◆ {{ label('action', one.decision) }}: {{ one.item.number }}, {{ one.item.title }}</b>
      <span class="quiet"> decided {{ since(one.at) }}, kept here until there is a network</span>
    </p>
    <p v-for="one in refused" :key="one.key" data-test="refused-decision">
      <b class="tone-stop"
        >▲ Not done: {{ label('action', one.decision).toLowerCase() }}
        <RouterLink :to="one.item.path">{{ one.item.number }}, {{ one.item.title }}</RouterLink></b
      >
      {{ one.refused.map(reason => words(reason)).join(' ') }}
      <ElButton link type="primary" data-test="seen-refused" @click="emit('forget', one.key)">I have seen it</ElButton>
    </p>
  </section>
</template>

<style scoped>
.pending {
  border-left: 3px solid var(--brass);
  padding: 6px 12px;
  margin: 10px 0;
  background: #fbf3df;
}
</style>
