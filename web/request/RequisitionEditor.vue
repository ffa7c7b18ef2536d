<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import type { ReasonJson } from '#contract/fields.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import {
  ActOnRequisition,
  ChooseDeciders,
  CreateRequisition,
  ReadChoices,
  type ReadRequisition,
  SubmitRequisition,
} from '#contract/request/endpoints.ts'
import type { LineBody } from '#contract/request/lines.ts'
import type { LineKind } from '#core/request/kinds.ts'
import { api } from '#web/api.ts'
import BudgetBar from '#web/charts/BudgetBar.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import AddLines from '#web/request/AddLines.vue'
import BulkBar from '#web/request/BulkBar.vue'
import DecidersField from '#web/request/DecidersField.vue'
import FilledForm from '#web/request/FilledForm.vue'
import KeepAsListDialog from '#web/request/KeepAsListDialog.vue'
import LineForm from '#web/request/LineForm.vue'
import LineRow from '#web/request/LineRow.vue'
import MergedNews from '#web/request/MergedNews.vue'
import { freightLine, freshLine, quickLine, titleOf } from '#web/request/newLines.ts'
import { reasonsByLine } from '#web/request/lineReasons.ts'
import NoticeStrip from '#web/request/NoticeStrip.vue'
import QuickLineField from '#web/request/QuickLineField.vue'
import { type EditedLine, useDraft } from '#web/request/useDraft.ts'
import ProposeDialog from '#web/source/ProposeDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { toggled } from '#web/shared/toggled.ts'
import { useAction } from '#web/shared/useAction.ts'
import { amountText } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'

/** A draft: kept by itself a moment after each change; shows budget and decisions before it is submitted. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadRequisition>; stale: boolean }>()
const emit = defineEmits<{ typing: [typing: boolean]; changed: [] }>()
const router = useRouter()
const { busy, reasons, run, clear } = useAction()
const draft = useDraft(
  () => props.sheet,
  is => emit('typing', is),
)
const { form, checked } = draft
const choices = shallowRef<ResponseOf<typeof ReadChoices>>()
const checkReason = ref('')
/** So many lines are shown open at once. */
const FEW = 3
const opened = ref(new Set(form.lines.length <= FEW ? form.lines.map(line => line.id) : []))
const chosen = ref(new Set<string>())
const proposing = ref('')
const keeping = ref(false)

onMounted(async () => {
  choices.value = await api(ReadChoices)
  await draft.check()
})

const facts = computed(() => new Map(checked.value?.lines.map(line => [line.id, line])))
/** As many lines as one request takes. */
const MOST_LINES = 500
const NONE: readonly ReasonJson[] = []
const byLine = computed(() => reasonsByLine(checked.value?.reasons ?? []))
const accountLabels = computed(() => new Map(choices.value?.accounts.map(one => [one.id, one.label.split(':')[0]!])))
const accountOf = (line: EditedLine): string =>
  line.splits.length > 1
    ? `${line.splits.length} accounts`
    : (accountLabels.value.get(line.splits[0]?.accountId ?? '') ?? '')
const stops = computed(() => checked.value?.reasons.filter(reason => reason.level === 'stop') ?? [])
const asks = computed(() => checked.value?.reasons.filter(reason => reason.level === 'check') ?? [])

function push(line: Omit<EditedLine, 'id'>, open = true): void {
  const id = crypto.randomUUID()
  form.lines.push({ ...line, id })
  if (open) opened.value = new Set([...opened.value, id])
  draft.touch()
}
const addLine = (kind: LineKind): void =>
  push(freshLine(kind, form.lines.at(-1), choices.value?.usual, props.sheet.baseCurrency))
const addFreight = (of: EditedLine): void => push(freightLine(of, props.sheet.baseCurrency))
async function requestFreight(of: EditedLine): Promise<void> {
  await draft.keep()
  const line = { ...freightLine(of, props.sheet.baseCurrency), quantity: '0' }
  const body = { title: line.description, reason: `For ${props.sheet.number}.`, lines: [line] }
  const done = await run(() => api(CreateRequisition, { body }))
  if (done) await router.push(`/request/${done.id}`)
}
/** Lines from the quick field: the first names the request when it has no name yet. */
function addQuick(lines: readonly Omit<LineBody, 'id'>[]): void {
  if (form.title.trim() === '' && lines[0]) form.title = titleOf(lines)
  const few = form.lines.length + lines.length <= FEW
  for (const line of lines) push(quickLine(line), few)
}
function remove(index: number): void {
  form.lines.splice(index, 1)
  draft.touch()
}
function changeChosen(change: Partial<EditedLine>): void {
  for (const line of form.lines.filter(one => chosen.value.has(one.id))) draft.change(line, change)
  chosen.value = new Set()
}
function removeChosen(): void {
  form.lines = form.lines.filter(line => !chosen.value.has(line.id))
  chosen.value = new Set()
  draft.touch()
}

async function chooseDeciders(wanted: { chosen: Record<string, string>; added: string[] }): Promise<void> {
  clear()
  await draft.keep()
  const body = { version: draft.version.value, ...wanted }
  const done = await run(() => api(ChooseDeciders, { params: { id: props.sheet.id }, body }))
  if (done) draft.version.value = done.version
  await draft.check()
}
async function submit(): Promise<void> {
  clear()
  await draft.keep()
  if (draft.reasons.value.length || draft.waiting.value) return
  const done = await run(() =>
    api(SubmitRequisition, {
      params: { id: props.sheet.id },
      body: { version: draft.version.value, checkReason: checkReason.value || undefined },
    }),
  )
  if (done) {
    draft.drop()
    emit('changed')
  }
}
async function act(name: string): Promise<void> {
  if (name === 'submit') return submit()
  await draft.keep()
  if (
    await run(() =>
      api(ActOnRequisition, {
        params: { id: props.sheet.id },
        body: { version: draft.version.value, action: name as 'cancel', reason: 'Not needed any more.' },
      }),
    )
  ) {
    draft.drop()
    emit('changed')
    if (name === 'cancel') await router.push('/request')
  }
}
/** A note or a file was added, or somebody wants the new state: what is typed is kept first. */
async function reloaded(): Promise<void> {
  await draft.keep()
  emit('changed')
}
/** A proposed supplier stands on the line at once; the order waits until it is onboarded. */
async function proposed(supplierId: string): Promise<void> {
  choices.value = await api(ReadChoices)
  const line = form.lines.find(one => one.id === proposing.value)
  if (line) draft.change(line, { supplierId })
}
</script>

<template>
  <SheetFrame
    :sheet="{ ...sheet, budgets: [], steps: checked?.steps ?? [], thread: null }"
    :busy="busy"
    :stale="stale && !draft.news.value.length"
    @act="act"
    @changed="reloaded"
  >
    <template #kind
      ><b>Request {{ sheet.number }}</b
      >, {{ sheet.state === 'returned' ? 'sent back for changes' : 'a draft'
      }}<span v-if="draft.waiting.value" class="tone-attention"
        >, not kept yet: the server does not answer; it is tried again</span
      ><span v-else-if="draft.kept.value" data-test="kept">, kept {{ draft.kept.value }}</span></template
    >
    <template #title
      ><ElInput
        v-model="form.title"
        class="title"
        placeholder="What is it for?"
        aria-label="Title"
        data-place="title"
        data-test="title"
        maxlength="300"
    /></template>
    <template #notice>
      <NoticeStrip
        :categories="[...new Set(form.lines.map(line => line.category).filter(Boolean))]"
        :suppliers="[...new Set(form.lines.map(line => line.supplierId ?? '').filter(Boolean))]"
      />
      <MergedNews :news="draft.news.value" :lines="form.lines" />
      <ReasonList :reasons="[...reasons, ...draft.reasons.value]" />
      <ReasonList v-if="checked && form.lines.length" :reasons="checked.reasons" />
      <FormField label="Your reason, for those who decide" v-if="asks.length && !stops.length" class="asks"
        ><ElInput v-model="checkReason" data-test="check-reason"
      /></FormField>
    </template>
    <FilledForm v-if="sheet.form" :form="sheet.form" />
    <QuickLineField :room="MOST_LINES - form.lines.length" :first="form.lines.length === 0" @add="addQuick" />
    <BulkBar
      v-if="chosen.size"
      :count="chosen.size"
      :choices="choices"
      @set="changeChosen"
      @remove="removeChosen"
      @all="chosen = new Set(form.lines.map(line => line.id))"
    />
    <div v-if="form.lines.length" class="lines-of">
      <div v-for="(line, index) in form.lines" :key="line.id">
        <LineRow
          :line="line"
          :index="index"
          :facts="facts.get(line.id)"
          :reasons="byLine.get(index) ?? NONE"
          :account="accountOf(line)"
          :open="opened.has(line.id)"
          :chosen="chosen.has(line.id)"
          @toggle="opened = toggled(opened, line.id)"
          @choose="chosen = toggled(chosen, line.id)"
        />
        <LineForm
          v-if="opened.has(line.id)"
          :line="line"
          :index="index"
          :choices="choices"
          :facts="facts.get(line.id)"
          :reasons="byLine.get(index) ?? NONE"
          :base="sheet.baseCurrency"
          @change="draft.change(line, $event)"
          @remove="remove(index)"
          @propose="proposing = line.id"
          @freight="addFreight(line)"
          @freight-request="requestFreight(line)"
        />
      </div>
    </div>
    <AddLines :count="form.lines.length" :most="MOST_LINES" @add="addLine" />
    <p v-if="form.lines.length" class="total">
      <ElButton link data-test="keep-as-list" @click="keeping = true"> keep as a repeat list</ElButton
      ><span
        ><b>{{ amountText(checked?.total ?? sheet.total) }}</b>
        <span class="unit"
          >{{ sheet.baseCurrency }}, {{ form.lines.length }} {{ form.lines.length === 1 ? 'line' : 'lines' }}</span
        ></span
      >
    </p>
    <FormField label="Why it is needed, if that helps those who decide" class="reason"
      ><ElInput v-model="form.reason" type="textarea" :rows="2" maxlength="4000"
    /></FormField>
    <template #margin
      ><section v-if="checked?.budgets.length">
        <h3>Money before and after</h3>
        <BudgetBar v-for="figures in checked.budgets" :key="figures.accountId" :figures="figures" />
      </section>
      <DecidersField
        v-if="checked && form.lines.length"
        :id="sheet.id"
        :checked="checked"
        :busy="busy"
        @want="chooseDeciders"
    /></template>
  </SheetFrame>
  <ProposeDialog v-if="proposing" :requisition-id="sheet.id" @close="proposing = ''" @proposed="proposed" />
  <KeepAsListDialog v-if="keeping" :from="sheet.id" :name="form.title" @close="keeping = false" />
</template>

<style scoped>
.title {
  max-width: 640px;
}
.title :deep(.el-input__inner) {
  font: 600 22px var(--serif);
  height: 38px;
}
.asks {
  max-width: 560px;
}
.lines-of {
  border-bottom: 1px solid var(--rule);
  margin-top: 12px;
}
.total {
  display: flex;
  justify-content: space-between;
  margin-top: 10px;
}
.total b {
  font-size: 16px;
}
.reason {
  margin-top: 18px;
}
</style>
