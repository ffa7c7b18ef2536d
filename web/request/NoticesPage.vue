<script setup lang="ts">
import NoticeSection from '#web/setup/NoticeSection.vue'
</script>

<template>
  <main class="notices-page">
    <p><RouterLink to="/request" class="quiet">← Requests</RouterLink></p>
    <NoticeSection />
  </main>
</template>

<style scoped>
.notices-page {
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  padding: 20px 28px 60px;
}
.notices-page > * {
  max-width: 900px;
}
</style>
