<script setup lang="ts">
/**
 * A page that has the whole width for one piece of work: what is worked on, two pictures beside each other in a
 * `.pair`, and the Margin at the right.
 */
withDefaults(defineProps<{ margin?: number }>(), { margin: 300 })
</script>

<template>
  <main class="work-page" :style="{ '--margin': `${margin}px` }">
    <div class="body"><slot /></div>
    <slot name="margin" />
  </main>
</template>

<style scoped>
.work-page {
  display: grid;
  grid-template-columns: minmax(0, 1fr) var(--margin);
  background: var(--sheet);
  min-height: 100%;
  overflow: auto;
  position: relative;
}
.body {
  padding: 16px 28px 60px;
  min-width: 0;
}
.body :slotted(.pair) {
  display: grid;
  grid-template-columns: minmax(0, 1.4fr) minmax(0, 1fr);
  gap: 28px;
  margin-bottom: 8px;
}
@media (max-width: 900px) {
  .work-page,
  .body :slotted(.pair) {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
