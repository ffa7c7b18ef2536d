<script setup lang="ts">
import { ElButton, ElDatePicker, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import type { ReasonJson } from '#contract/fields.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import {
  ActOnRequisition,
  CreateRequisition,
  ReadChoices,
  type ReadRequisition,
  SubmitRequisition,
} from '#contract/request/endpoints.ts'
import { ListForms } from '#contract/request/forms.ts'
import type { LineBody } from '#contract/request/lines.ts'
import { KINDS, LINE_KINDS, type LineKind } from '#core/request/kinds.ts'
import { api } from '#web/api.ts'
import BudgetBar from '#web/charts/BudgetBar.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import KeepAsListDialog from '#web/request/KeepAsListDialog.vue'
import LineForm from '#web/request/LineForm.vue'
import LineRow from '#web/request/LineRow.vue'
import NoticeStrip from '#web/request/NoticeStrip.vue'
import QuickLineField from '#web/request/QuickLineField.vue'
import { type EditedLine, useDraft } from '#web/request/useDraft.ts'
import ProposeDialog from '#web/source/ProposeDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, label } from '#web/shared/words.ts'

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
const forms = shallowRef<ResponseOf<typeof ListForms>['forms']>([])
const checkReason = ref('')
const opened = ref(new Set(form.lines.length <= 3 ? form.lines.map(line => line.id) : []))
const chosen = ref(new Set<string>())
const bulk = ref({ accountId: '', needBy: '', addressId: '' })
const proposing = ref('')
const keeping = ref(false)

onMounted(async () => {
  choices.value = await api(ReadChoices)
  await draft.check()
  if (form.lines.length === 0) forms.value = (await api(ListForms, { query: {} })).forms
})

const facts = computed(() => new Map(checked.value?.lines.map(line => [line.id, line])))
/** As many lines as one request takes. */
const MOST_LINES = 500
const NONE: readonly ReasonJson[] = []
const byLine = computed(() => {
  const map = new Map<number, ReasonJson[]>()
  for (const reason of checked.value?.reasons ?? []) {
    const at = /^lines\.(\d+)\./.exec(reason.place ?? '')
    if (at) map.set(Number(at[1]) - 1, [...(map.get(Number(at[1]) - 1) ?? []), reason])
  }
  return map
})
const accountLabels = computed(() => new Map(choices.value?.accounts.map(one => [one.id, one.label.split(':')[0]!])))
const accountOf = (line: EditedLine): string =>
  line.splits.length > 1
    ? `${line.splits.length} accounts`
    : (accountLabels.value.get(line.splits[0]?.accountId ?? '') ?? '')
const stops = computed(() => checked.value?.reasons.filter(reason => reason.level === 'stop') ?? [])
const asks = computed(() => checked.value?.reasons.filter(reason => reason.level === 'check') ?? [])

function toggle(set: Set<string>, id: string): Set<string> {
  const next = new Set(set)
  if (!next.delete(id)) next.add(id)
  return next
}
function push(line: Omit<EditedLine, 'id'>, open = true): void {
  const id = crypto.randomUUID()
  form.lines.push({ ...line, id })
  if (open) opened.value = new Set([...opened.value, id])
  draft.touch()
}
/** A fresh line takes place, day and account from the one before it. */
function addLine(kind: LineKind): void {
  const last = form.lines.at(-1)
  const usual = choices.value?.usual
  push({
    kind,
    itemId: null,
    offerId: null,
    description: '',
    quantity: kind === 'goodsByAmount' ? '' : '1',
    unit: KINDS[kind].unit,
    price: kind === 'goodsByAmount' ? '1' : '',
    priceBase: '1',
    currency: 'EUR',
    supplierId: kind === 'personalFee' ? null : (last?.supplierId ?? null),
    needBy: last?.needBy ?? null,
    addressId: last?.addressId ?? usual?.addressId ?? null,
    splits: last?.splits.length
      ? last.splits.map(split => ({ ...split }))
      : usual?.accountId
        ? [{ accountId: usual.accountId, share: '100' }]
        : [],
    splitBy: last?.splitBy ?? 'percent',
    category: '',
    incoterm: null,
    incotermPlace: '',
    routes: ['orderNow'],
    routeReason: '',
    proof: null,
    freight: '',
    details: {},
  })
}
/** Carriage that the term leaves to us, to be bought by amount from whoever carries it. */
const freightFor = (of: EditedLine): Omit<EditedLine, 'id'> => ({
  kind: 'goodsByAmount',
  itemId: null,
  offerId: null,
  description: `Carriage: ${of.description}`.slice(0, 300),
  quantity: '',
  unit: 'M4',
  price: '1',
  priceBase: '1',
  currency: 'EUR',
  supplierId: null,
  needBy: of.needBy,
  addressId: of.addressId,
  splits: of.splits.map(split => ({ ...split })),
  splitBy: of.splitBy === 'quantity' || of.splitBy === 'amount' ? 'share' : of.splitBy,
  category: '',
  incoterm: null,
  incotermPlace: '',
  routes: ['orderNow', 'askForQuotes'],
  routeReason: '',
  proof: null,
  freight: '',
  details: {},
})
const addFreight = (of: EditedLine): void => push(freightFor(of))
async function requestFreight(of: EditedLine): Promise<void> {
  await draft.keep()
  const line = { ...freightFor(of), quantity: '0' }
  const done = await run(() =>
    api(CreateRequisition, { body: { title: line.description, reason: `For ${props.sheet.number}.`, lines: [line] } }),
  )
  if (done) await router.push(`/request/${done.id}`)
}
/** Lines from the quick field: the first names the request when it has no name yet. */
function addQuick(lines: readonly Omit<LineBody, 'id'>[]): void {
  if (form.title.trim() === '' && lines[0])
    form.title = lines.length === 1 ? lines[0].description : `${lines[0].description} and ${lines.length - 1} more`
  for (const line of lines)
    push(
      {
        ...line,
        category: line.category ?? '',
        splitBy: line.splitBy ?? 'percent',
        incoterm: null,
        incotermPlace: '',
        routes: line.routes ?? ['orderNow'],
        routeReason: '',
        proof: null,
        freight: '',
        details: line.details ?? {},
        splits: line.splits.map(split => ({ ...split, share: '100' })),
      },
      form.lines.length + lines.length <= 3,
    )
}
function remove(index: number): void {
  form.lines.splice(index, 1)
  draft.touch()
}
function applyBulk(): void {
  for (const line of form.lines.filter(one => chosen.value.has(one.id)))
    draft.change(line, {
      ...(bulk.value.accountId
        ? { splits: [{ accountId: bulk.value.accountId, share: '100' }], splitBy: 'percent' as const }
        : {}),
      ...(bulk.value.needBy ? { needBy: bulk.value.needBy } : {}),
      ...(bulk.value.addressId ? { addressId: bulk.value.addressId } : {}),
    })
  chosen.value = new Set()
}
function removeChosen(): void {
  form.lines = form.lines.filter(line => !chosen.value.has(line.id))
  chosen.value = new Set()
  draft.touch()
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
const whereOf = (where: string): string => {
  const at = form.lines.findIndex(line => line.id === where)
  return at < 0 ? where : `line ${at + 1}`
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
      <div v-if="draft.news.value.length" class="reasons note" role="status" data-test="merged">
        <strong>Changed in another window meanwhile</strong>
        <ul>
          <li v-for="one in draft.news.value" :key="one.where + one.field">
            {{ whereOf(one.where) }}{{ one.field ? `, ${label('line field', one.field)}` : '' }}:
            {{ label('merge', one.kind) }}
          </li>
        </ul>
      </div>
      <ReasonList :reasons="[...reasons, ...draft.reasons.value]" />
      <ReasonList v-if="checked && form.lines.length" :reasons="checked.reasons" />
      <label v-if="asks.length && !stops.length" class="field asks"
        >Your reason, for those who decide<ElInput v-model="checkReason" data-test="check-reason"
      /></label>
    </template>
    <section v-if="sheet.form" class="answers">
      <h2>{{ sheet.form.name }}</h2>
      <dl>
        <template v-for="one in sheet.form.said" :key="one.question"
          ><dt>{{ one.question }}</dt>
          <dd>{{ one.answer }}</dd></template
        >
      </dl>
    </section>
    <QuickLineField :room="MOST_LINES - form.lines.length" :first="form.lines.length === 0" @add="addQuick" />
    <div v-if="chosen.size" class="bulk" data-test="bulk">
      <b>{{ chosen.size }} {{ chosen.size === 1 ? 'line' : 'lines' }}</b>
      <ElSelect
        v-model="bulk.accountId"
        filterable
        default-first-option
        clearable
        :value-on-clear="''"
        placeholder="account"
        aria-label="Account"
        style="width: 260px"
        data-test="bulk-account"
        ><ElOption v-for="one in choices?.accounts" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
      ><ElDatePicker
        v-model="bulk.needBy"
        type="date"
        value-format="YYYY-MM-DD"
        format="D MMM YYYY"
        placeholder="needed by"
        aria-label="Needed by"
        style="width: 140px"
      /><ElSelect
        v-model="bulk.addressId"
        filterable
        default-first-option
        clearable
        :value-on-clear="''"
        placeholder="place"
        aria-label="Place"
        style="width: 200px"
        ><ElOption v-for="one in choices?.addresses" :key="one.id" :value="one.id" :label="one.label"
      /></ElSelect>
      <ElButton size="small" data-test="bulk-apply" @click="applyBulk">Set</ElButton
      ><ElButton link @click="removeChosen">take out</ElButton
      ><ElButton link @click="chosen = new Set(form.lines.map(line => line.id))"> choose all </ElButton>
    </div>
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
          @toggle="opened = toggle(opened, line.id)"
          @choose="chosen = toggle(chosen, line.id)"
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
    <div class="add">
      <p class="wish">
        <span class="quiet">Add</span
        ><ElButton
          link
          v-for="kind in LINE_KINDS"
          :key="kind"
          :disabled="form.lines.length >= MOST_LINES"
          :data-test="`add-${kind}`"
          @click="addLine(kind)"
        >
          {{ label('kind wish', kind) }}</ElButton
        ><RouterLink to="/request/catalogue">something from the catalogue</RouterLink
        ><RouterLink to="/request/lists">a repeat list</RouterLink>
      </p>
      <p v-if="forms.length" class="wish">
        <span class="quiet">Or fill a form</span
        ><RouterLink
          v-for="one in forms"
          :key="one.id"
          :to="`/request/forms/${one.id}`"
          :data-test="`form-${one.code}`"
          >{{ one.name }}</RouterLink
        >
      </p>
      <p v-if="form.lines.length" class="total">
        <ElButton link data-test="keep-as-list" @click="keeping = true"> keep as a repeat list</ElButton
        ><span
          ><b>{{ amountText(checked?.total ?? sheet.total) }}</b>
          <span class="unit"
            >{{ sheet.baseCurrency }}, {{ form.lines.length }} {{ form.lines.length === 1 ? 'line' : 'lines' }}</span
          ></span
        >
      </p>
    </div>
    <label class="field reason"
      >Why it is needed, if that helps those who decide<ElInput
        v-model="form.reason"
        type="textarea"
        :rows="2"
        maxlength="4000"
    /></label>
    <template #margin
      ><section v-if="checked?.budgets.length">
        <h3>Money before and after</h3>
        <BudgetBar v-for="figures in checked.budgets" :key="figures.accountId" :figures="figures" /></section
    ></template>
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
.bulk {
  position: sticky;
  top: 0;
  z-index: 5;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  background: var(--sheet);
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
}
.add {
  margin-top: 14px;
}
.wish {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin-bottom: 6px;
}
.wish a {
  text-decoration: none;
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
.answers {
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
</style>
