<script setup lang="ts">
import '#contract/messages/later.ts'
import { ElButton } from 'element-plus'
import { useDebounceFn } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import {
  AnswerAsked,
  AskedFile,
  AskedPaper,
  LookAtAnswerFile,
  ReadAsked,
  SayAsked,
  SeeAsked,
  UploadAskedFile,
} from '#contract/source/asked.ts'
import { api, pathOf, upload } from '#web/api.ts'
import { documentTopic, useNews } from '#web/news/news.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import FileField from '#web/shared/FileField.vue'
import { t } from '#web/shared/language.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { timeText } from '#web/shared/words.ts'
import AnswerForm from '#web/source/AnswerForm.vue'
import AskedHead from '#web/supplier-pages/AskedHead.vue'
import AskedMessages from '#web/supplier-pages/AskedMessages.vue'
import AskedOutcome from '#web/supplier-pages/AskedOutcome.vue'
import FileDifferences from '#web/supplier-pages/FileDifferences.vue'
import SupplierFrame from '#web/supplier-pages/SupplierFrame.vue'

/** A quote request as its supplier sees it: what is asked, the terms, the answer; a draft keeps itself. */
const route = useRoute()
const id = computed(() => String(route.params.id))
const { data: asked, failure, reload } = useRead(ReadAsked, () => ({ params: { id: id.value } }), { keep: true })
const { busy, reasons, run, clear } = useAction()
const answer = ref<ResponseOf<typeof ReadAsked>['answer']>()
const keptAt = ref('')
const handedIn = ref(false)
const declining = ref(false)
const withdrawing = ref(false)
const looked = ref<ResponseOf<typeof LookAtAnswerFile>>()
const WAIT = 900
let known = ''
watch(asked, value => {
  // what somebody is typing stays; what came from elsewhere is taken where nothing was typed
  if (!value || (answer.value && JSON.stringify(answer.value) !== known)) return
  answer.value = structuredClone(value.answer)
  known = JSON.stringify(answer.value)
})
onMounted(() => void api(SeeAsked, { params: { id: id.value } }).catch(() => undefined))
useNews(() => [documentTopic(id.value)], () => void reload()) // prettier-ignore
const may = (act: string): boolean => asked.value?.may[act]?.length === 0
const terms = computed(() => asked.value?.terms !== '' && asked.value?.accepted === false)
const keepSoon = useDebounceFn(async () => {
  const now = JSON.stringify(answer.value)
  if (now === known || !may('save') || busy.value) return
  const kept = await run(() =>
    api(AnswerAsked, { params: { id: id.value }, body: { answer: answer.value!, submit: false } }),
  )
  if (!kept) return
  known = now
  keptAt.value = kept.at
}, WAIT)
watch(answer, () => void keepSoon(), { deep: true })
async function say(what: 'accept' | 'means' | 'meansNot' | 'decline' | 'withdraw', reason = ''): Promise<void> {
  if (!(await run(() => api(SayAsked, { params: { id: id.value }, body: { say: what, reason } })))) return
  declining.value = withdrawing.value = false
  await reload()
}
async function submit(): Promise<void> {
  if (!(await run(() => api(AnswerAsked, { params: { id: id.value }, body: { answer: answer.value!, submit: true } }))))
    return
  known = JSON.stringify(answer.value)
  handedIn.value = true
  await reload()
}
async function attach(files: readonly File[]): Promise<void> {
  for (const file of files) {
    const kept = await run(() => upload(file, UploadAskedFile.path))
    if (kept) answer.value!.fileIds.push(kept.id)
  }
}
async function read([file]: File[]): Promise<void> {
  const kept = await run(() => upload(file!, UploadAskedFile.path))
  if (kept)
    looked.value = await run(() => api(LookAtAnswerFile, { params: { id: id.value }, body: { fileId: kept.id } }))
}
function take(): void {
  answer.value = structuredClone(
    JSON.parse(JSON.stringify(looked.value!.answer)) as ResponseOf<typeof ReadAsked>['answer'],
  )
  looked.value = undefined
}
</script>

<template>
  <SupplierFrame>
    <SheetFailure v-if="failure" :failure="failure" @again="reload" />
    <article v-else-if="asked && answer" class="asked">
      <AskedHead :asked="asked" />
      <AskedOutcome v-if="asked.outcome" :asked="asked" />
      <p v-if="handedIn" class="tone-settled" role="status" data-test="handed-in">
        {{ t('Your answer is in. You can change it until the end.') }}
      </p>
      <section v-if="terms && asked.state === 'open'" class="terms" data-test="terms">
        <h2>{{ t('Before you answer') }}</h2>
        <p>{{ asked.terms }}</p>
        <ReasonList :reasons="reasons" />
        <p class="bar">
          <ElButton type="primary" :disabled="busy" data-test="accept-terms" @click="say('accept')">{{
            t('Accept the terms')
          }}</ElButton><ElButton
            data-test="decline"
            @click="
              () => {
                clear()
                declining = true
              }
            "
            >{{ t('Decline') }}</ElButton
          >
        </p>
      </section>
      <template v-else-if="asked.settings.format === 'auction'">
        <p class="bar">
          <RouterLink :to="`/supplier/asked/${id}/day`"
            ><ElButton type="primary" data-test="to-day">{{ t('To the bidding') }}</ElButton></RouterLink
          >
        </p>
      </template>
      <template v-else>
        <p v-if="asked.state === 'open'" class="bar ways">
          <template v-if="asked.means === null && !asked.submittedAt"
            ><ElButton :disabled="busy" data-test="means" @click="say('means')">{{
              t('We mean to answer')
            }}</ElButton></template
          ><a :href="pathOf(AskedPaper, { id }, { format: 'xlsx' })" data-test="workbook">{{ t('As a workbook') }}</a
          ><a :href="pathOf(AskedPaper, { id }, { format: 'pdf' })" target="_blank">{{ t('As a form on paper') }}</a
          ><a :href="pathOf(AskedPaper, { id }, { format: 'xml' })">UBL</a
          ><FileField
            v-if="may('save')"
            :label="t('Read a filled workbook or a UBL quotation')"
            accept=".xlsx,.xml"
            :busy="busy"
            mark="answer-file"
            @choose="read"
          />
        </p>
        <FileDifferences v-if="looked" :looked="looked" @take="take" @leave="looked = undefined" />
        <AnswerForm
          v-model="answer"
          :asked="asked"
          :reasons="reasons"
          :busy="busy"
          :may-act="may('submit')"
          @submit="submit"
        >
          <template #files
            ><p v-for="file in answer.fileIds" :key="file">
              <a :href="pathOf(AskedFile, { id, fileId: file })" target="_blank">{{
                asked.answerFiles[file] ?? t('a file')
              }}</a>
            </p>
            <FileField :label="t('Add files')" multiple :busy="busy" @choose="attach" /></template
          ><template #acts
            ><ElButton
              v-if="may('decline') && !asked.submittedAt"
              data-test="decline"
              @click="
                () => {
                  clear()
                  declining = true
                }
              "
              >{{ t('Decline') }}</ElButton
            ><ElButton v-if="may('withdraw')" data-test="withdraw" @click="withdrawing = true">{{
              t('Take the answer back')
            }}</ElButton
            ><span class="quiet" role="status">{{
              keptAt
                ? t('draft kept {time}', { time: timeText(keptAt) })
                : asked.submittedAt
                  ? t('handed in {time}', { time: timeText(asked.submittedAt) })
                  : ''
            }}</span></template
          ></AnswerForm
        >
      </template>
      <AskedMessages :asked="asked" @changed="reload" />
    </article>
    <ActDialog
      :open="declining"
      :title="t('Decline')"
      :what="t('The buyer reads your reason. Until the end you can still answer.')"
      :button="t('Decline')"
      :busy="busy"
      :reasons="reasons"
      @close="declining = false"
      @go="say('decline', $event)"
    />
    <ActDialog
      :open="withdrawing"
      :title="t('Take the answer back')"
      :what="t('What you handed in does not count any more. Until the end you can hand in another answer.')"
      :button="t('Take the answer back')"
      :busy="busy"
      :reasons="reasons"
      optional
      @close="withdrawing = false"
      @go="say('withdraw', $event)"
    />
  </SupplierFrame>
</template>

<style scoped>
.asked {
  background: var(--sheet);
  border: 1px solid var(--rule);
  padding: 22px 26px 30px;
}
.terms {
  margin: 14px 0;
  white-space: pre-line;
}
.ways {
  margin: 12px 0;
  gap: 6px 16px;
  align-items: center;
}
@media (max-width: 700px) {
  .asked {
    padding: 16px 12px;
  }
}
</style>
