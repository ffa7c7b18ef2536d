<script setup lang="ts">
import { computed, onErrorCaptured, onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'
import CourseBar from '#web/frame/CourseBar.vue'
import InPassing from '#web/frame/InPassing.vue'
import ShortcutHelp from '#web/frame/ShortcutHelp.vue'
import { OWN_DESK, STAGE_VALUES, startNews, useNews } from '#web/news/news.ts'
import { useSession } from '#web/people/session.ts'

const session = useSession()
const route = useRoute()
const broken = ref('')
const team = computed(() => session.realm === 'team' && route.path !== '/sign-in')

useNews(
  () => (session.realm === 'team' ? [OWN_DESK, STAGE_VALUES] : []),
  () => void session.refreshCounts(),
)
onMounted(() => {
  if (!session.person) return
  startNews(session.at)
  void session.refreshCounts()
})
onErrorCaptured(error => {
  broken.value = error instanceof Error ? error.message : String(error)
  return false
})
</script>

<template>
  <div class="app">
    <CourseBar v-if="team" />
    <main v-if="broken" class="broken">
      <h1>This page broke</h1>
      <p>{{ broken }}</p>
      <p>
        Nothing that was saved is lost. <a :href="route.fullPath">Load it again</a>, and tell a steward if it happens
        twice.
      </p>
    </main>
    <RouterView v-else />
    <ShortcutHelp v-if="team" />
    <InPassing />
  </div>
</template>

<style>
.app {
  height: 100%;
  display: flex;
  flex-direction: column;
}
.app > :not(.course):not(.el-overlay) {
  min-height: 0;
}
@media (max-width: 700px) {
  .app:has(> .course) {
    --thumb-strip: calc(46px + env(safe-area-inset-bottom));
    padding-bottom: var(--thumb-strip);
    box-sizing: border-box;
  }
}
.broken {
  padding: 60px;
  max-width: 620px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
</style>
