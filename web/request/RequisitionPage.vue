<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { AnswerSkip, AskBeforeDeciding, Decide, RemindHolders } from '#contract/decide/endpoints.ts'
import { ActOnRequisition, ReadRequisition, RequisitionPdf } from '#contract/request/endpoints.ts'
import { REQUISITION_GROUPS } from '#core/request/states.ts'
import { isIn } from '#core/states.ts'
import { api, pathOf } from '#web/api.ts'
import type { Wanted } from '#web/decide/DecideDialog.vue'
import ChangedLines from '#web/decide/ChangedLines.vue'
import StepTimes from '#web/charts/StepTimes.vue'
import BudgetBar from '#web/charts/BudgetBar.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import KeepAsListDialog from '#web/request/KeepAsListDialog.vue'
import QuestionPanel from '#web/request/QuestionPanel.vue'
import RequestedLines from '#web/request/RequestedLines.vue'
import RequisitionEditor from '#web/request/RequisitionEditor.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, day, label, words } from '#web/shared/words.ts'

const EditLinesDialog = defineAsyncComponent(() => import('#web/decide/EditLinesDialog.vue'))
const DecideDialog = defineAsyncComponent(() => import('#web/decide/DecideDialog.vue'))
const MoveStepDialog = defineAsyncComponent(() => import('#web/decide/MoveStepDialog.vue'))
const route = useRoute()
const router = useRouter()
const id = computed(() => String(route.params.id))
const typing = ref(false)
const { sheet, failure, stale, reload } = useSheet(ReadRequisition, id, () => typing.value)
const { busy, reasons, run, clear } = useAction()
const asking = ref('')
const deciding = ref<Exclude<Wanted, 'approve'>>()
const keeping = ref(false)
const editing = ref(false)
/** A steward moves the decision on, or somebody adds one who decides, too. */
const moving = ref<'passOn' | 'addDecider'>()
const editable = computed(() => sheet.value?.mine && isIn(REQUISITION_GROUPS.drafts, sheet.value.state))
/** What wanted a reason when it was submitted, and the reason that was given: those who decide see both. */
const given = computed(() => {
  const submitted = sheet.value?.history.find(one => one.action === 'submitted')
  return submitted?.reason
    ? {
        reason: submitted.reason,
        checks:
          (submitted.changes as { checks?: { code: string; details: Record<string, string | number> }[] }).checks ?? [],
      }
    : undefined
})
const WHAT: Readonly<Record<string, string>> = {
  withdraw: 'The request comes back to you and the budget it holds is free again.',
  refuseSkip: 'The decision stays where it is; whoever wanted to skip it sees why.',
}

async function act(name: string): Promise<void> {
  clear()
  if (name === 'approve') return void (await decide('approve', ''))
  if (name === 'remind') {
    await run(() => api(RemindHolders, { params: { id: id.value } }))
    return reload()
  }
  if (name === 'passOn' || name === 'addDecider') return void (moving.value = name)
  if (name === 'editLines') return void (editing.value = true)
  if (name === 'agreeSkip') return answerSkip(true, '')
  if (name === 'return' || name === 'reject' || name === 'ask') deciding.value = name
  else if (name === 'withdraw' || name === 'refuseSkip') asking.value = name
  else await own(name, '')
}
async function decide(decision: 'approve' | 'return' | 'reject', reason: string): Promise<void> {
  if (
    await run(() =>
      api(Decide, { params: { id: id.value }, body: { version: sheet.value!.version, decision, reason } }),
    )
  )
    deciding.value = undefined
  await reload()
}
async function say(said: string): Promise<void> {
  if (deciding.value !== 'ask') return decide(deciding.value!, said)
  const body = { version: sheet.value!.version, question: said }
  if (await run(() => api(AskBeforeDeciding, { params: { id: id.value }, body }))) deciding.value = undefined
  await reload()
}
async function answerSkip(agrees: boolean, reason: string): Promise<void> {
  const body = { version: sheet.value!.version, agrees, reason }
  if (await run(() => api(AnswerSkip, { params: { id: id.value }, body }))) asking.value = ''
  await reload()
}
async function moved(): Promise<void> {
  moving.value = undefined
  editing.value = false
  await reload()
}
async function own(action: string, reason: string): Promise<void> {
  const done = await run(() =>
    api(ActOnRequisition, {
      params: { id: id.value },
      body: { version: sheet.value!.version, action: action as 'withdraw', reason },
    }),
  )
  if (!done) return
  asking.value = ''
  if (done.id !== id.value) await router.push(`/request/${done.id}`)
  else await reload()
}
async function go(reason: string): Promise<void> {
  if (asking.value === 'refuseSkip') return answerSkip(false, reason)
  await own('withdraw', reason)
}
</script>

<template>
  <SheetFailure v-if="failure && !sheet" :failure="failure" @again="reload" />
  <RequisitionEditor
    v-else-if="sheet && editable"
    :key="id"
    :sheet="sheet"
    :stale="stale"
    @typing="typing = $event"
    @changed="reload"
  />
  <SheetFrame v-else-if="sheet" :sheet="sheet" :busy="busy" :stale="stale" @act="act" @changed="reload">
    <template #kind
      ><b>Request {{ sheet.number }}</b> of {{ sheet.requester
      }}<template v-if="sheet.needBy">, needed by {{ day(sheet.needBy) }}</template></template
    >
    <template #notice
      ><ReasonList v-if="!asking && !deciding" :reasons="reasons" />
      <div class="only-phone ask">
        <p>
          <b>{{ amountText(sheet.total) }}</b> <span class="unit">{{ sheet.baseCurrency }}</span>
        </p>
        <BudgetBar v-for="figures in sheet.budgets" :key="figures.accountId" :figures="figures" />
      </div>
      <p v-if="sheet.reason" class="why">“{{ sheet.reason }}”</p>
      <div v-if="given" class="given" data-test="given-reason">
        <p v-for="(one, index) in given.checks" :key="index" class="quiet">{{ words(one) }}</p>
        <p>{{ sheet.requester }}: “{{ given.reason }}”</p>
      </div>
      <ChangedLines :changes="sheet.changes" />
      <QuestionPanel :sheet="sheet" @changed="reload"
    /></template>
    <section v-if="sheet.form" class="said">
      <h2>{{ sheet.form.name }}</h2>
      <dl>
        <template v-for="one in sheet.form.said" :key="one.question"
          ><dt>{{ one.question }}</dt>
          <dd>{{ one.answer }}</dd></template
        >
      </dl>
    </section>
    <RequestedLines :sheet="sheet" />
    <StepTimes :steps="sheet.steps" />
    <p class="bar files">
      <a :href="pathOf(RequisitionPdf, { id: sheet.id })" target="_blank" rel="noopener" data-test="request-pdf">PDF</a
      ><ElButton
        link
        v-if="sheet.mine || !sheet.lines.every(line => line.confidential)"
        data-test="keep-as-list"
        @click="keeping = true"
      >
        keep as a repeat list
      </ElButton>
    </p>
  </SheetFrame>
  <KeepAsListDialog v-if="keeping && sheet" :from="sheet.id" :name="sheet.title" @close="keeping = false" />
  <MoveStepDialog
    v-if="moving && sheet"
    :id="id"
    :version="sheet.version"
    :steps="sheet.steps"
    :only-add="moving === 'addDecider'"
    @done="moved"
    @close="moving = undefined"
  />
  <EditLinesDialog v-if="editing && sheet" :sheet="sheet" @done="moved" @close="editing = false" />
  <DecideDialog
    v-if="deciding && sheet"
    :wanted="deciding"
    :about="sheet.title"
    :busy="busy"
    :reasons="reasons"
    @go="say"
    @close="deciding = undefined"
  />
  <ActDialog
    :open="asking !== ''"
    :title="label('action', asking)"
    :what="WHAT[asking] ?? ''"
    :button="label('action', asking)"
    :busy="busy"
    :reasons="reasons"
    :optional="asking === 'withdraw'"
    @close="asking = ''"
    @go="go"
  >
  </ActDialog>
</template>

<style scoped>
.ask {
  margin-top: 12px;
}
.ask b {
  font-size: 20px;
  font-weight: 600;
}
.why {
  margin-top: 10px;
  font-style: italic;
  color: var(--ink-quiet);
  max-width: 620px;
}
.given {
  border-left: 3px solid var(--brass);
  padding: 4px 12px;
  margin-top: 10px;
  max-width: 620px;
}
.said {
  margin-top: 14px;
}
dl {
  display: grid;
  grid-template-columns: minmax(120px, 240px) 1fr;
  gap: 2px 16px;
  margin: 6px 0;
}
dt {
  color: var(--ink-quiet);
}
dd {
  margin: 0;
}
.files {
  margin-top: 12px;
  font-size: 12px;
}
</style>
