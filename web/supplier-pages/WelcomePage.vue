<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadInvitation, Register } from '#contract/source/company.ts'
import { PASSWORD_LETTERS } from '#core/people/password.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { day } from '#web/shared/words.ts'

/** Where the link of an invitation leads: one name, one password, and in. */
const route = useRoute()
const router = useRouter()
const session = useSession()
const { busy, reasons, run } = useAction()
const invited = shallowRef<ResponseOf<typeof ReadInvitation>>()
const name = ref('')
const password = ref('')
const token = String(route.params.token)
onMounted(async () => {
  invited.value = await run(() => api(ReadInvitation, { params: { token } }))
  name.value = invited.value?.name ?? ''
})
async function enter(): Promise<void> {
  if (!(await run(() => api(Register, { params: { token }, body: { name: name.value, password: password.value } }))))
    return
  await session.load()
  await router.push(session.may('supplierPages.company') ? '/supplier/company' : '/supplier')
}
</script>

<template>
  <main class="welcome">
    <div class="column">
      <p class="mark"><img src="/mark.svg" width="18" height="22" alt="" />{{ invited?.house ?? '' }}</p>
      <template v-if="invited"
        ><h1>Welcome, {{ invited.company }}</h1>
        <p>
          {{ invited.house }} would like to buy from you. Choose a password; then you answer some questions about
          {{ invited.kind === 'person' ? 'yourself' : 'the company' }}. You can stop at any time and go on later. This
          link works until {{ day(invited.until) }}.
        </p>
        <form class="form" @submit.prevent="enter">
          <label class="field">Your name<ElInput v-model="name" autocomplete="name" data-test="register-name" /></label>
          <p class="quiet">You sign in with {{ invited.email }}.</p>
          <label class="field" data-place="password"
            >A password of at least {{ PASSWORD_LETTERS.least }} letters<ElInput
              v-model="password"
              type="password"
              show-password
              autocomplete="new-password"
              data-test="register-password"
          /></label>
          <ReasonList :reasons="reasons" />
          <p class="bar">
            <ElButton
              type="primary"
              native-type="submit"
              :disabled="busy || name.trim() === '' || password === ''"
              data-test="register"
              >Come in</ElButton
            >
          </p>
        </form></template
      >
      <template v-else-if="reasons.length"
        ><h1>This link does not open</h1>
        <ReasonList :reasons="reasons" />
        <p><RouterLink to="/sign-in">Sign in</RouterLink></p></template
      >
    </div>
  </main>
</template>

<style scoped>
.welcome {
  flex: 1;
  overflow: auto;
  background: var(--page);
  padding: 40px 20px;
}
.column {
  max-width: 520px;
  margin: 0 auto;
  background: var(--sheet);
  border: 1px solid var(--rule);
  padding: 30px 32px 36px;
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
.form {
  display: flex;
  flex-direction: column;
  gap: 12px;
  margin-top: 8px;
}
</style>
