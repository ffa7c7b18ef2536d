<script setup lang="ts">
import Bowser from 'bowser'
import { ElButton, ElInput } from 'element-plus'
import { onMounted, reactive, ref, shallowRef } from 'vue'
import * as account from '#contract/account/endpoints.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { PASSWORD_LETTERS } from '#core/people/password.ts'
import PersonalBox from '#web/account/PersonalBox.vue'
import SecondFactorBox from '#web/account/SecondFactorBox.vue'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { since, stamp } from '#web/shared/words.ts'
import SupplierFrame from '#web/supplier-pages/SupplierFrame.vue'
import { t } from '#web/shared/language.ts'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** One's own account: password, second factor, and where one is signed in. */
const session = useSession()
const own = shallowRef<ResponseOf<typeof account.ReadAccount>>()
const password = useAction()
const factor = useAction()
const sessions = useAction()
const typed = reactive({ present: '', password: '' })
const code = ref('')
const setting = ref(false)
const said = ref('')

/** "Firefox on Windows", from what a program says of itself. */
function programOf(agent: string): string {
  const { browser, os } = Bowser.parse(agent || 'unknown')
  if (!browser.name) return t('An unknown program')
  return os.name ? t('{browser} on {system}', { browser: browser.name, system: os.name }) : browser.name
}
const load = async (): Promise<void> => {
  own.value = await api(account.ReadAccount)
}
onMounted(load)

async function changePassword(): Promise<void> {
  if (!(await password.run(() => api(account.ChangePassword, { body: { ...typed } })))) return
  Object.assign(typed, { present: '', password: '' })
  said.value = t('The password is changed, and every other session has ended.')
  await load()
}
async function endFactor(): Promise<void> {
  if (!(await factor.run(() => api(account.EndSecondFactor, { body: { code: code.value } })))) return
  code.value = ''
  await load()
}
async function factorSet(): Promise<void> {
  setting.value = false
  await load()
}
async function end(id: string): Promise<void> {
  await sessions.run(() => api(account.EndSession, { params: { id } }))
  await load()
}
async function endOthers(): Promise<void> {
  await sessions.run(() => api(account.EndOtherSessions))
  await load()
}
</script>

<template>
  <component :is="session.realm === 'supplier' ? SupplierFrame : 'main'" class="account">
    <div v-if="own" class="column">
      <h1>{{ own.name }}</h1>
      <p class="quiet">{{ t('You sign in with {email}.', { email: own.email }) }}</p>
      <section>
        <h2>{{ t('Yours') }}</h2>
        <PersonalBox />
      </section>
      <section v-if="own.hasPassword">
        <h2>{{ t('Password') }}</h2>
        <form @submit.prevent="changePassword">
          <FormField :label="t('The present one')"
            ><ElInput
              v-model="typed.present"
              type="password"
              show-password
              autocomplete="current-password"
              data-test="present-password"
          /></FormField>
          <FormField :label="t('A new one, of at least {least} letters', PASSWORD_LETTERS)"
            ><ElInput
              v-model="typed.password"
              type="password"
              show-password
              autocomplete="new-password"
              data-test="next-password"
          /></FormField>
          <ReasonList :reasons="password.reasons.value" />
          <p v-if="said" role="status">{{ said }}</p>
          <p class="bar">
            <ElButton
              type="primary"
              native-type="submit"
              :disabled="password.busy.value || !typed.present || !typed.password"
              data-test="change-password"
              >{{ t('Change it') }}</ElButton
            >
          </p>
        </form>
      </section>
      <section>
        <h2>{{ t('Second factor') }}</h2>
        <template v-if="own.secondFactorSince">
          <p>
            {{
              t('Since {when} a code of your authenticator is asked for after the password.', {
                when: stamp(own.secondFactorSince),
              })
            }}
            {{ own.secondFactorDue ? t('One of your roles must have it.') : '' }}
          </p>
          <form v-if="!own.secondFactorDue" @submit.prevent="endFactor">
            <FormField :label="t('To take it away, a code')"
              ><ElInput v-model="code" inputmode="numeric" autocomplete="one-time-code"
            /></FormField>
            <ReasonList :reasons="factor.reasons.value" />
            <p class="bar">
              <ElButton native-type="submit" :disabled="factor.busy.value || code.length < 6">{{
                t('Take it away')
              }}</ElButton>
            </p>
          </form>
        </template>
        <SecondFactorBox v-else-if="setting" @done="factorSet">
          <ElButton @click="setting = false">{{ t('Leave it') }}</ElButton>
        </SecondFactorBox>
        <template v-else>
          <p>{{ t('Whoever learns your password can come in with it alone.') }}</p>
          <p class="bar">
            <ElButton data-test="set-factor" @click="setting = true">{{ t('Set a second factor') }}</ElButton>
          </p>
        </template>
      </section>
      <section>
        <h2>{{ t('Where you are signed in') }}</h2>
        <LineTable
          :rows="own.sessions"
          :columns="lineColumns({ program: t('Program'), lastUsed: t('Last used'), acts: '' })"
          :label="t('Where you are signed in')"
          :key-of="one => one.id"
          ><template #program="{ row: one }">
            {{ programOf(one.agent) }}<small>{{ one.network }}</small>
          </template>
          <template #lastUsed="{ row: one }">
            {{ one.current ? t('now, here') : since(one.seenAt)
            }}<small>{{ t('since {when}', { when: stamp(one.createdAt) }) }}</small>
          </template>
          <template #acts="{ row: one }">
            <ElButton v-if="!one.current" link type="primary" @click="end(one.id)">{{ t('End it') }}</ElButton>
          </template></LineTable
        >
        <ReasonList :reasons="sessions.reasons.value" />
        <p v-if="own.sessions.length > 1" class="bar">
          <ElButton :disabled="sessions.busy.value" data-test="end-others" @click="endOthers">{{
            t('Sign out everywhere else')
          }}</ElButton>
        </p>
      </section>
    </div>
  </component>
</template>

<style scoped>
main.account {
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  padding: 24px;
}
.column {
  max-width: 760px;
  margin: 0 auto;
}
section {
  border-top: 1px solid var(--rule);
  margin-top: 20px;
  padding-top: 14px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
form {
  display: flex;
  flex-direction: column;
  gap: 10px;
  max-width: 340px;
}
</style>
