<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import { watch } from 'vue'
import { said } from '#web/shared/message.ts'

/** What was just done, at the foot of the page for a few seconds. */
const LONG = 4000
const { start } = useTimeoutFn(() => (said.value = undefined), LONG, { immediate: false })
watch(said, now => now && start())
</script>

<template>
  <p class="in-passing" role="status" :class="{ said }">{{ said?.text }}</p>
</template>

<style scoped>
.in-passing {
  position: fixed;
  left: 50%;
  bottom: 18px;
  transform: translateX(-50%);
  z-index: 3000;
  pointer-events: none;
}
.said {
  background: var(--ink);
  color: var(--ink-light);
  padding: 7px 16px;
  border-radius: 2px;
}
</style>
