<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadInvitation, Register } from '#contract/source/company.ts'
import { PASSWORD_LETTERS } from '#core/people/password.ts'
import DoorFrame from '#web/frame/DoorFrame.vue'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { day } from '#web/shared/words.ts'
import { t } from '#web/shared/language.ts'
import FormField from '#web/shared/FormField.vue'

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
  <DoorFrame :title="invited?.house ?? ''">
    <template v-if="invited"
      ><h1>{{ t('Welcome, {name}', { name: invited.company }) }}</h1>
      <p>
        {{
          invited.kind === 'person'
            ? t(
                '{house} would like to buy from you. Choose a password; then you answer some questions about yourself. You can stop at any time and go on later. This link works until {day}.',
                { house: invited.house, day: day(invited.until) },
              )
            : t(
                '{house} would like to buy from you. Choose a password; then you answer some questions about the company. You can stop at any time and go on later. This link works until {day}.',
                { house: invited.house, day: day(invited.until) },
              )
        }}
      </p>
      <EntryForm :reasons="reasons" :busy="busy" @submit="enter">
        <FormField :label="t('Your name')"
          ><ElInput v-model="name" autocomplete="name" data-test="register-name"
        /></FormField>
        <p class="quiet">{{ t('You sign in with {email}.', { email: invited.email }) }}</p>
        <FormField :label="t('A password of at least {least} letters', PASSWORD_LETTERS)" place="password"
          ><ElInput
            v-model="password"
            type="password"
            show-password
            autocomplete="new-password"
            data-test="register-password"
        /></FormField>
        <p class="bar">
          <ElButton
            type="primary"
            native-type="submit"
            :disabled="busy || name.trim() === '' || password === ''"
            data-test="register"
            >{{ t('Come in') }}</ElButton
          >
        </p>
      </EntryForm></template
    >
    <template v-else-if="reasons.length"
      ><h1>{{ t('This link does not open') }}</h1>
      <ReasonList :reasons="reasons" />
      <p>
        <RouterLink to="/sign-in">{{ t('Sign in') }}</RouterLink>
      </p></template
    >
  </DoorFrame>
</template>
