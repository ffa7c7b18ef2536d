<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { AskReset, ProveCode } from '#contract/account/endpoints.ts'
import { SignIn, SignInDemo } from '#contract/people/endpoints.ts'
import SecondFactorBox from '#web/account/SecondFactorBox.vue'
import { api } from '#web/api.ts'
import HouseMark from '#web/frame/HouseMark.vue'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import RowButton from '#web/shared/RowButton.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label } from '#web/shared/words.ts'
import { t } from '#web/shared/language.ts'
import FormField from '#web/shared/FormField.vue'

const session = useSession()
const route = useRoute()
const { busy, reasons, run, clear } = useAction()
const email = ref('')
const password = ref('')
const code = ref('')
/** What is asked for now: the password, the code after it, a second factor that must be set first, or the address of a lost password. */
const step = ref<'password' | 'code' | 'enrol' | 'lost' | 'sent'>(session.pending ?? 'password')
const team = computed(() => session.demoPeople.filter(person => !person.company))
const suppliers = computed(() => session.demoPeople.filter(person => person.company))
const roles = (text: string): string =>
  text
    .split(', ')
    .map(role => label('role', role))
    .join(', ')
/** Only a place of this application, never another site. */
const target = computed(() =>
  typeof route.query.to === 'string' && /^\/(?!\/)/.test(route.query.to) ? route.query.to : '/',
)

/** How somebody came back from the single sign-on who was not let in. */
const refused = computed(() =>
  route.query.single === 'unknown'
    ? t('Nobody here has an account with the address that {name} names. Ask a steward.', {
        name: session.single ?? '',
      })
    : route.query.single === 'failed'
      ? t('The sign-on did not work. Try again, or come in with your password.')
      : '',
)
const goOn = (): void => location.assign(target.value)
async function enter(work: () => Promise<unknown>): Promise<void> {
  if (await run(work)) goOn()
}
async function signIn(): Promise<void> {
  const answer = await run(() => api(SignIn, { body: { email: email.value, password: password.value } }))
  if (answer?.pending) step.value = answer.pending
  else if (answer) goOn()
}
async function askReset(): Promise<void> {
  if (await run(() => api(AskReset, { body: { email: email.value } }))) step.value = 'sent'
}
function goTo(next: 'password' | 'lost'): void {
  clear()
  step.value = next
}
</script>

<template>
  <main class="sign-in">
    <div class="sheet-box">
      <p class="mark"><HouseMark :height="31" />Ivory Order</p>
      <p v-if="session.house === ''" role="status">
        Nobody has set this house up yet. Whoever started the program was shown a link to the page that does it;
        <code>./ivory setup --link</code> on the server shows another one.
      </p>
      <EntryForm v-else-if="step === 'password'" :reasons="reasons" :busy="busy" @submit="signIn">
        <FormField :label="t('Mail address')"
          ><ElInput v-model="email" type="text" autocomplete="username" name="email"
        /></FormField>
        <FormField :label="t('Password')"
          ><ElInput v-model="password" type="password" autocomplete="current-password" name="password" show-password
        /></FormField>
        <p v-if="refused" role="alert" class="tone-stop">{{ refused }}</p>
        <ElButton type="primary" native-type="submit" :disabled="busy || !email || !password">{{
          t('Sign in')
        }}</ElButton>
        <p>
          <ElButton link type="primary" data-test="lost" @click="goTo('lost')">{{
            t('I do not know my password')
          }}</ElButton>
        </p>
        <p v-if="session.single">
          <a href="/api/sign-in/single" data-test="single">{{ t('Come in with {name}', { name: session.single }) }}</a>
        </p>
      </EntryForm>
      <EntryForm
        v-else-if="step === 'code'"
        :reasons="reasons"
        :busy="busy"
        @submit="enter(() => api(ProveCode, { body: { code } }))"
      >
        <FormField :label="t('The code that your authenticator shows')"
          ><ElInput v-model="code" inputmode="numeric" autocomplete="one-time-code" name="code" autofocus
        /></FormField>
        <ElButton type="primary" native-type="submit" :disabled="busy || code.trim().length < 6">{{
          t('Come in')
        }}</ElButton>
        <p class="quiet">{{ t('No authenticator at hand? A steward can reset it.') }}</p>
      </EntryForm>
      <template v-else-if="step === 'enrol'">
        <p class="first">{{ t('One of your roles must have a second factor.') }}</p>
        <SecondFactorBox @done="goOn" />
      </template>
      <EntryForm v-else-if="step === 'lost'" :reasons="reasons" :busy="busy" @submit="askReset">
        <FormField :label="t('Mail address')"
          ><ElInput v-model="email" type="text" autocomplete="username" name="email"
        /></FormField>
        <ElButton type="primary" native-type="submit" :disabled="busy || !email">{{ t('Send a link') }}</ElButton>
        <p>
          <ElButton link type="primary" @click="goTo('password')">{{ t('Back') }}</ElButton>
        </p>
      </EntryForm>
      <p v-else role="status">
        {{ t('If there is an account with this address, a link is on its way to it. It works once and for an hour.') }}
      </p>
    </div>
    <section v-if="session.demo" class="people" aria-label="People of the demo">
      <h1>{{ session.house }}</h1>
      <p class="quiet">A made-up aquarium. Come in as one of its people, with one click.</p>
      <ul>
        <li v-for="person in team" :key="person.id">
          <RowButton
            :disabled="busy"
            :data-test="`as-${person.name.split(' ')[0]}`"
            @click="enter(() => api(SignInDemo, { body: { personId: person.id } }))"
          >
            <b>{{ person.name }}</b><span>{{ roles(person.role) }}</span>
          </RowButton>
        </li>
      </ul>
      <h2>At the suppliers</h2>
      <ul>
        <li v-for="person in suppliers" :key="person.id">
          <RowButton
            :disabled="busy"
            :data-test="`at-${person.company}`"
            @click="enter(() => api(SignInDemo, { body: { personId: person.id } }))"
          >
            <b>{{ person.company }}</b><span>{{ person.name }}</span>
          </RowButton>
        </li>
      </ul>
    </section>
  </main>
</template>

<style scoped>
.sign-in {
  display: flex;
  gap: 56px;
  justify-content: center;
  align-items: flex-start;
  padding: 64px 24px;
  overflow: auto;
  flex-wrap: wrap;
}
.sheet-box {
  width: 300px;
  background: var(--sheet);
  border: 1px solid var(--rule);
  padding: 26px;
}
form {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.mark {
  display: flex;
  gap: 10px;
  align-items: center;
  font: 600 20px var(--serif);
  margin-bottom: 20px;
}
.first {
  margin-bottom: 10px;
}
.people {
  width: 560px;
  max-width: 100%;
}
.people h2 {
  margin-top: 20px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 10px 0 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  gap: 0 28px;
}
li {
  border-bottom: 1px solid var(--rule);
}
.row-button :deep(> span) {
  flex-direction: column;
  gap: 0;
}
li .row-button:hover b {
  color: var(--tide);
  text-decoration: underline;
}
li .row-button :deep(span span) {
  color: var(--ink-quiet);
  font-size: 12px;
}
li b {
  font-weight: 600;
}
</style>
