<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadCompany, ReviseAnswers, SaveAnswers, SubmitAnswers, UploadCompanyFile } from '#contract/source/company.ts'
import type { Answers, Section } from '#core/source/questionnaire.ts'
import { api, upload } from '#web/api.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useSession } from '#web/people/session.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label, since, timeText } from '#web/shared/words.ts'
import QuestionForm from '#web/source/QuestionForm.vue'
import SupplierFrame from '#web/supplier-pages/SupplierFrame.vue'
import { t } from '#web/shared/language.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** What we know of the supplier, in its own hands: answered half-way and kept, handed in, answered back, changed later. */
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const company = shallowRef<ResponseOf<typeof ReadCompany>>()
const failure = shallowRef<unknown>()
const answers = ref<Answers>({})
const version = ref(1)
const kept = ref('')
const changing = ref(false)
const done = ref('')
/** Half-way answers are kept by themselves, a moment after the last letter. */
const { start: saveSoon, stop: notSoon } = useTimeoutFn(() => void save(), 900, { immediate: false })
let loading = false

async function load(): Promise<void> {
  try {
    loading = true
    company.value = await api(ReadCompany)
    answers.value = company.value.answers
    version.value = company.value.onboarding?.version ?? 1
    failure.value = undefined
  } catch (error) {
    failure.value = error
  } finally {
    setTimeout(() => {
      loading = false
    })
  }
}
onMounted(load)
const state = computed(() => company.value?.onboarding?.state ?? '')
const answering = computed(() => state.value === 'answering' || state.value === 'askedBack')
const active = computed(() => company.value?.onboarding === null && ['active', 'paused'].includes(company.value.state))
const readonly = computed(() => !answering.value && !changing.value)
const openAsks = computed(() => company.value?.asks.filter(ask => !ask.answered) ?? [])
const sections = computed(() => (company.value?.sections ?? []) as Section[])

async function save(): Promise<void> {
  notSoon()
  const saved = await run(() => api(SaveAnswers, { body: { answers: answers.value as never, version: version.value } }))
  if (saved) {
    version.value = saved.version
    kept.value = timeText(saved.savedAt)
  }
}
watch(answers, () => {
  if (answering.value && !loading) saveSoon()
})
async function submit(): Promise<void> {
  notSoon()
  if (await run(() => api(SubmitAnswers, { body: { answers: answers.value as never, version: version.value } })))
    await load()
}
async function revise(): Promise<void> {
  const answer = await run(() => api(ReviseAnswers, { body: { answers: answers.value as never } }))
  if (!answer) return
  done.value =
    answer.atOnce + answer.waiting === 0
      ? t('Nothing was changed.')
      : [
          answer.atOnce ? t('{count} taken at once.', { count: answer.atOnce }) : '',
          answer.waiting
            ? t('{count} wait until {house} has looked at them.', { count: answer.waiting, house: session.house })
            : '',
        ]
          .join(' ')
          .trim()
  changing.value = false
  await load()
}
const sendFile = (file: File): Promise<{ id: string; name: string }> => upload(file, UploadCompanyFile.path)
</script>

<template>
  <SupplierFrame>
    <SheetFailure v-if="failure" :failure="failure" @again="load" />
    <template v-else-if="company">
      <h1>
        {{
          answering
            ? state === 'askedBack'
              ? openAsks.length === 1
                ? t('One question for you')
                : t('{count} questions for you', { count: openAsks.length })
              : t('Tell us about yourselves')
            : company.name
        }}
      </h1>
      <p class="state" data-test="company-state">
        <template v-if="state === 'answering'">{{
          t('You can stop at any time: what you write is kept. Hand it in when all is there.')
        }}</template>
        <template v-else-if="state === 'askedBack'">{{
          t('Please look at the marked answers once more, then hand them in again.')
        }}</template>
        <template v-else-if="state === 'submitted' || state === 'deciding'">{{
          t('Your answers are with {house} since {when}. You are told by mail when they are approved.', {
            house: session.house,
            when: since(company.onboarding!.submittedAt ?? ''),
          })
        }}</template>
        <template v-else-if="active">{{ t('This is what we know of you. Change it when it changes.') }}</template>
        <template v-else-if="!company.onboarding">{{
          t('The record is {state}; answers can be changed when it is active.', {
            state: label('state', company.state),
          })
        }}</template>
      </p>
      <p v-if="done" class="reasons note" role="status">{{ done }}</p>
      <section v-if="company.waiting.length" class="section">
        <h2>{{ t('Waiting to be looked at') }}</h2>
        <LineTable
          :rows="company.waiting"
          :columns="lineColumns({ field: t('What'), '~before': t('Before'), after: t('Then'), '~since': t('Since') })"
          :label="t('Waits for them')"
          bare
          :key-of="one => one.key"
          ><template #field="{ row: one }">{{ one.label }}</template>
          <template #before="{ row: one }"
            ><span class="quiet"
              ><del>{{ one.before }}</del></span
            ></template
          >
          <template #after="{ row: one }">{{ one.after }}</template>
          <template #since="{ row: one }"
            ><span class="quiet">{{ since(one.at) }}</span></template
          ></LineTable
        >
      </section>
      <section v-if="company.refused.length" class="section">
        <h2>{{ t('Not taken') }}</h2>
        <p v-for="one in company.refused" :key="one.key + one.after" class="quiet">
          {{ one.label }}, “{{ one.after }}”: {{ one.reason }}
        </p>
      </section>
      <div class="paper">
        <QuestionForm
          v-model="answers"
          :sections="sections"
          :reasons="reasons"
          :asks="company.asks"
          :readonly="readonly"
          :send-file="sendFile"
        />
      </div>
      <ReasonList :reasons="reasons" />
      <p class="bar foot">
        <template v-if="answering"
          ><ElButton type="primary" :disabled="busy" data-test="submit-answers" @click="submit">{{
            t('Hand the answers in')
          }}</ElButton
          ><ElButton :disabled="busy" data-test="save-answers" @click="save">{{ t('Keep for later') }}</ElButton
          ><span v-if="kept" class="quiet" role="status">{{ t('kept {time}', { time: kept }) }}</span></template
        >
        <template v-else-if="changing"
          ><ElButton type="primary" :disabled="busy" data-test="revise" @click="revise">{{
            t('Send the changes')
          }}</ElButton
          ><ElButton
            @click="
              () => {
                changing = false
                clear()
                load()
              }
            "
            >{{ t('Leave it') }}</ElButton
          ></template
        >
        <ElButton
          v-else-if="active"
          type="primary"
          data-test="change-answers"
          @click="
            () => {
              changing = true
              done = ''
              clear()
            }
          "
          >{{ t('Change something') }}</ElButton
        >
      </p>
    </template>
  </SupplierFrame>
</template>

<style scoped>
.state {
  margin: 4px 0 16px;
  max-width: 620px;
}
.paper {
  background: var(--sheet);
  border: 1px solid var(--rule);
  padding: 22px 26px 4px;
  margin-top: 14px;
}
.foot {
  position: sticky;
  bottom: 0;
  background: var(--page);
  padding: 12px 0;
}
@media (max-width: 700px) {
  .paper {
    padding: 16px 14px 2px;
  }
}
</style>
