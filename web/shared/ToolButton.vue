<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { Component } from 'vue'

/** A small sign with a name, for the tools of a list: shown on pointing, always said to screen readers. */
defineProps<{ icon: Component; name: string; on?: boolean }>()
</script>

<template>
  <ElButton link class="tool" :class="{ on }" :title="name" :aria-label="name"
    ><component :is="icon" :size="17" :stroke-width="1.75" aria-hidden="true" /><slot
  /></ElButton>
</template>

<style scoped>
.tool {
  padding: 4px;
  min-width: 28px;
  height: 28px;
  color: var(--tide);
}
.tool.on {
  background: var(--tide-light);
}
</style>
