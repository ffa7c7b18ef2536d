<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { AnswerMail, ReadMails } from '#contract/demo/endpoints.ts'
import { api } from '#web/api.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import RowButton from '#web/shared/RowButton.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { since } from '#web/shared/words.ts'

const mails = shallowRef<ResponseOf<typeof ReadMails>['mails']>()
const failure = shallowRef<unknown>()
const to = ref('')
const openId = ref('')
const open = computed(() => mails.value?.find(mail => mail.id === openId.value) ?? mails.value?.[0])
async function load(): Promise<void> {
  try {
    mails.value = (await api(ReadMails, { query: { to: to.value || undefined } })).mails
    failure.value = undefined
  } catch (error) {
    failure.value = error
  }
}
const answer = ref('')
const sent = ref('')
const { busy, reasons, run } = useAction()
watch(openId, () => {
  answer.value = sent.value = ''
})
async function send(): Promise<void> {
  const mail = open.value!
  if (!(await run(() => api(AnswerMail, { body: { id: mail.id, text: answer.value } })))) return
  answer.value = ''
  sent.value = 'It is on its way. What became of it comes back as a mail.'
  await load()
}
let timer: ReturnType<typeof setTimeout> | undefined
watch(to, () => {
  clearTimeout(timer)
  timer = setTimeout(() => void load(), 200)
})
onMounted(load)
const parts = (text: string): { text: string; path: string | undefined }[] =>
  text
    .split(/((?:https?:\/\/[^\s/]+)?\/(?:answer|decide|request|supplier)\/[\w/-]+)/)
    .map(part => ({ text: part, path: /\/(?:answer|decide|request|supplier)\/[\w/-]+$/.exec(part)?.[0] }))
</script>

<template>
  <main class="mailbox">
    <section class="mails">
      <h2>Mailbox of the demo</h2>
      <p class="quiet">Everything that left by mail. The server is a stand-in: nothing leaves this machine.</p>
      <ElInput v-model="to" class="search" type="search" placeholder="To whom" aria-label="To whom" />
      <SheetFailure v-if="failure" :failure="failure" @again="load" />
      <RowButton
        v-for="mail in mails"
        :key="mail.id"
        class="mail"
        :class="{ on: mail.id === open?.id }"
        @click="openId = mail.id"
      >
        <b>{{ mail.subject }}</b><span class="quiet">{{ mail.to }}, {{ since(mail.at) }}</span>
      </RowButton>
      <p v-if="mails?.length === 0" class="empty">No mail yet.</p>
    </section>
    <article v-if="open" class="letter">
      <p class="quiet">From {{ open.from }}<br />To {{ open.to }}</p>
      <h1>{{ open.subject }}</h1>
      <pre><template v-for="(part, index) in parts(open.text)" :key="index"><RouterLink v-if="part.path" :to="part.path">{{ part.text }}</RouterLink><template v-else>{{ part.text }}</template></template></pre>
      <div v-if="open.replyTo.includes('decide+')" class="answer">
        <ElInput
          v-model="answer"
          type="textarea"
          :rows="2"
          placeholder="Answer as whoever got it: yes, no and why, question and what"
          aria-label="Answer"
          data-test="answer-mail"
        />
        <p class="bar">
          <ElButton :disabled="busy || answer.trim() === ''" data-test="send-answer-mail" @click="send"
            >Send the answer</ElButton
          ><span v-if="sent" class="quiet" role="status">{{ sent }}</span>
        </p>
        <ReasonList :reasons="reasons" />
      </div>
      <p v-for="file in open.attachments" :key="file.name" class="quiet">
        Attached: {{ file.name }}, {{ Math.round(file.size / 1024) }} kB
      </p>
    </article>
  </main>
</template>

<style scoped>
.mailbox {
  flex: 1;
  display: grid;
  grid-template-columns: 360px 1fr;
  min-height: 0;
}
.mails {
  overflow: auto;
  border-right: 1px solid var(--rule);
  padding: 16px;
}
.search {
  margin: 8px 0;
}
.mail {
  border-bottom: 1px solid var(--rule-light);
  padding: 8px 4px;
}
.mail :deep(> span) {
  flex-direction: column;
  gap: 0;
}
.mail.on {
  background: var(--sheet);
}
.mail b {
  font-weight: 600;
}
.mail .quiet {
  font-size: 12px;
}
.letter {
  background: var(--sheet);
  padding: 26px 32px;
  overflow: auto;
}
.answer {
  max-width: 520px;
  margin-top: 14px;
}
pre {
  font: 14px/1.55 var(--sans);
  white-space: pre-wrap;
  margin-top: 16px;
}
</style>
