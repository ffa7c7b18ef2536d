<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import { ReadLink, UseLink } from '#contract/account/endpoints.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { PASSWORD_LETTERS } from '#core/people/password.ts'
import DoorFrame from '#web/frame/DoorFrame.vue'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { t } from '#web/shared/language.ts'
import FormField from '#web/shared/FormField.vue'

/** Where a mailed link leads: choose a password, and in. */
const route = useRoute()
const session = useSession()
const { busy, reasons, run } = useAction()
const link = shallowRef<ResponseOf<typeof ReadLink>>()
const password = ref('')
const token = String(route.params.token)
onMounted(async () => {
  link.value = await run(() => api(ReadLink, { params: { token } }))
})
async function enter(): Promise<void> {
  if (await run(() => api(UseLink, { params: { token }, body: { password: password.value } }))) location.assign('/')
}
</script>

<template>
  <DoorFrame :title="session.house || 'Ivory Order'">
    <template v-if="link">
      <h1>{{ link.purpose === 'reset' ? t('Choose a new password') : t('Welcome, {name}', { name: link.name }) }}</h1>
      <p class="quiet">{{ t('You sign in with {email}.', { email: link.email }) }}</p>
      <EntryForm :reasons="reasons" :busy="busy" @submit="enter">
        <FormField :label="t('A password of at least {least} letters', PASSWORD_LETTERS)" place="password"
          ><ElInput
            v-model="password"
            type="password"
            show-password
            autocomplete="new-password"
            data-test="new-password"
        /></FormField>
        <p class="quiet">{{ t('A few words with blanks between them are easy to keep in mind and hard to guess.') }}</p>
        <p class="bar">
          <ElButton type="primary" native-type="submit" :disabled="busy || password === ''" data-test="use-link">{{
            t('Choose it and come in')
          }}</ElButton>
        </p>
      </EntryForm>
    </template>
    <template v-else-if="reasons.length">
      <h1>{{ t('This link does not open') }}</h1>
      <ReasonList :reasons="reasons" />
      <p>
        <RouterLink to="/sign-in">{{ t('Sign in, or ask for a new one') }}</RouterLink>
      </p>
    </template>
  </DoorFrame>
</template>
