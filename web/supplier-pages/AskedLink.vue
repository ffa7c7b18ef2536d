<script setup lang="ts">
import '#contract/messages/later.ts'
import { onMounted } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { OpenAsked } from '#contract/source/asked.ts'
import { api } from '#web/api.ts'
import DoorFrame from '#web/frame/DoorFrame.vue'
import { useSession } from '#web/people/session.ts'
import { t } from '#web/shared/language.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'

/** Where the link of a mail leads: to what is asked, at once; whoever has an account signs in first. */
const route = useRoute()
const router = useRouter()
const session = useSession()
const { reasons, run } = useAction()
onMounted(async () => {
  const opened = await run(() => api(OpenAsked, { params: { token: String(route.params.token) } }))
  if (!opened) return
  if (opened.signedIn) await session.load()
  await router.replace(`/supplier/asked/${opened.eventId}`)
})
</script>

<template>
  <DoorFrame title="">
    <template v-if="reasons.length"
      ><h1>{{ t('This link does not open') }}</h1>
      <ReasonList :reasons="reasons" />
      <p>
        <RouterLink to="/sign-in">{{ t('Sign in') }}</RouterLink>
      </p></template
    >
    <p v-else class="quiet" role="status">{{ t('Opening') }}</p>
  </DoorFrame>
</template>
