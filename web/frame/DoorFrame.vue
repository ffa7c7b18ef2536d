<script setup lang="ts">
import HouseMark from '#web/frame/HouseMark.vue'

/** A page that is seen before anybody has come in: the mark, and one box with what is asked. */
defineProps<{ title: string; width?: number }>()
</script>

<template>
  <main class="door">
    <div class="box" :style="{ maxWidth: `${width ?? 500}px` }">
      <p class="mark"><HouseMark :height="22" />{{ title }}</p>
      <slot />
    </div>
  </main>
</template>

<style scoped>
.door {
  flex: 1;
  overflow: auto;
  background: var(--page);
  padding: 40px 20px 60px;
}
.box {
  margin: 0 auto;
  background: var(--sheet);
  border: 1px solid var(--rule);
  padding: 28px 32px 34px;
}
.box,
.box :deep(> form) {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.mark {
  display: flex;
  gap: 9px;
  font: 600 15px var(--serif);
  align-items: center;
}
</style>
