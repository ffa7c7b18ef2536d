<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { AskBeforeDeciding, Decide, PassStep, RemindHolders } from '#contract/decide/endpoints.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ActOnRequisition, ReadChoices, ReadRequisition, RequisitionPdf } from '#contract/request/endpoints.ts'
import { REQUISITION_GROUPS } from '#core/request/states.ts'
import { isIn } from '#core/states.ts'
import { api, pathOf } from '#web/api.ts'
import DecideDialog, { type Wanted } from '#web/decide/DecideDialog.vue'
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
import FormField from '#web/shared/FormField.vue'

const route = useRoute()
const router = useRouter()
const id = computed(() => String(route.params.id))
const typing = ref(false)
const { sheet, failure, stale, reload } = useSheet(ReadRequisition, id, () => typing.value)
const { busy, reasons, run, clear } = useAction()
const asking = ref('')
const deciding = ref<Exclude<Wanted, 'approve'>>()
const keeping = ref(false)
const passTo = ref('')
const people = shallowRef<ResponseOf<typeof ReadChoices>['people']>([])
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
  passOn: 'The step goes to another person who may decide; the reason stays in the history.',
}

async function act(name: string): Promise<void> {
  clear()
  if (name === 'approve') return void (await decide('approve', ''))
  if (name === 'remind') {
    await run(() => api(RemindHolders, { params: { id: id.value } }))
    return reload()
  }
  if (name === 'passOn') people.value = (await api(ReadChoices)).people
  if (name === 'return' || name === 'reject' || name === 'ask') deciding.value = name
  else if (name === 'withdraw' || name === 'passOn') asking.value = name
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
  if (asking.value === 'withdraw') return own('withdraw', reason)
  const step = sheet.value!.steps.find(one => one.stalled) ?? sheet.value!.steps.find(one => one.state === 'open')
  if (
    await run(() =>
      api(PassStep, {
        params: { id: id.value, stepId: step!.id! },
        body: { version: sheet.value!.version, toPersonId: passTo.value, reason },
      }),
    )
  ) {
    asking.value = ''
    await reload()
  }
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
    :busy="busy || (asking === 'passOn' && !passTo)"
    :reasons="reasons"
    :optional="asking === 'withdraw'"
    @close="asking = ''"
    @go="go"
  >
    <FormField label="To" v-if="asking === 'passOn'"
      ><ElSelect v-model="passTo" filterable default-first-option data-test="pass-to"
        ><ElOption v-for="person in people" :key="person.id" :value="person.id" :label="person.label" /></ElSelect
    ></FormField>
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
