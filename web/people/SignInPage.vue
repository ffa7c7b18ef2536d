<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { SignIn, SignInDemo } from '#contract/people/endpoints.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label } from '#web/shared/words.ts'

const session = useSession()
const route = useRoute()
const { busy, reasons, run } = useAction()
const email = ref('')
const password = ref('')
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

async function enter(work: () => Promise<unknown>): Promise<void> {
  if (await run(work)) location.assign(target.value)
}
</script>

<template>
  <main class="sign-in">
    <div class="sheet-box">
      <p class="mark"><img src="/mark.svg" width="26" height="31" alt="" />Ivory Order</p>
      <form @submit.prevent="enter(() => api(SignIn, { body: { email, password } }))">
        <label class="field"
          >Mail address<ElInput v-model="email" type="text" autocomplete="username" name="email"
        /></label>
        <label class="field"
          >Password<ElInput
            v-model="password"
            type="password"
            autocomplete="current-password"
            name="password"
            show-password
        /></label>
        <ReasonList :reasons="reasons" />
        <ElButton type="primary" native-type="submit" :disabled="busy || !email || !password">Sign in</ElButton>
      </form>
    </div>
    <section v-if="session.demo" class="people" aria-label="People of the demo">
      <h1>Saltmere Aquarium Trust</h1>
      <p class="quiet">A made-up aquarium. Come in as one of its people, with one click.</p>
      <ul>
        <li v-for="person in team" :key="person.id">
          <button
            type="button"
            :disabled="busy"
            :data-test="`as-${person.name.split(' ')[0]}`"
            @click="enter(() => api(SignInDemo, { body: { personId: person.id } }))"
          >
            <b>{{ person.name }}</b><span>{{ roles(person.role) }}</span>
          </button>
        </li>
      </ul>
      <h2>At the suppliers</h2>
      <ul>
        <li v-for="person in suppliers" :key="person.id">
          <button
            type="button"
            :disabled="busy"
            :data-test="`at-${person.company}`"
            @click="enter(() => api(SignInDemo, { body: { personId: person.id } }))"
          >
            <b>{{ person.company }}</b><span>{{ person.name }}</span>
          </button>
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
li button {
  width: 100%;
  display: flex;
  flex-direction: column;
  background: none;
  border: 0;
  padding: 6px 2px;
  cursor: pointer;
  text-align: left;
  font: inherit;
  color: inherit;
}
li button:hover b {
  color: var(--tide);
  text-decoration: underline;
}
li span {
  color: var(--ink-quiet);
  font-size: 12px;
}
li b {
  font-weight: 600;
}
</style>
