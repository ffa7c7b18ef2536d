<script setup lang="ts">
import '#contract/messages/later.ts'
import { onMounted } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { OpenLink } from '#contract/build/costings.ts'
import { api } from '#web/api.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'

/** Somebody opens a link to a costing. */
const route = useRoute()
const router = useRouter()
const { reasons, run } = useAction()
onMounted(async () => {
  const opened = await run(() => api(OpenLink, { body: { token: String(route.params.token) } }))
  if (opened) await router.replace(`/source/builds/${opened.id}`)
})
</script>

<template>
  <main class="shared">
    <ReasonList v-if="reasons.length" :reasons="reasons" />
    <p v-else class="quiet">Opening …</p>
  </main>
</template>

<style scoped>
.shared {
  padding: 28px;
}
</style>
