<script setup lang="ts">
import '#contract/messages/later.ts'
import '#contract/messages/billing.ts'
import { ElButton, ElInput } from 'element-plus'
import { computed, reactive, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { DropInvoiceDraft, KeepInvoiceDraft, ReadWhatBills } from '#contract/bill/drafts.ts'
import { SupplierInvoice } from '#contract/bill/endpoints.ts'
import {
  OwnAnswerFile,
  RespondToOrder,
  SupplierOrder,
  SupplierPdf,
  SupplierUbl,
} from '#contract/order/supplierOrders.ts'
import { asWanted } from '#core/order/revision.ts'
import { api, pathOf } from '#web/api.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { documentTopic, useNews } from '#web/news/news.ts'
import AnswerFromFile from '#web/order/AnswerFromFile.vue'
import ClauseList from '#web/order/ClauseList.vue'
import DifferenceList from '#web/order/DifferenceList.vue'
import { useSession } from '#web/people/session.ts'
import { t } from '#web/shared/language.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, day, since, words } from '#web/shared/words.ts'
import type { LineAnswer } from '#web/order/lineAnswer.ts'
import type { InvoiceEntry, OwnOrder } from '#web/supplier-pages/invoiceEntry.ts'
import { answeredWords, invoiceState } from '#web/supplier-pages/ownOrderWords.ts'
import SupplierDespatch from '#web/supplier-pages/SupplierDespatch.vue'
import SupplierReports from '#web/supplier-pages/SupplierReports.vue'
import SupplierFrame from '#web/supplier-pages/SupplierFrame.vue'
import SupplierInvoiceForm from '#web/supplier-pages/SupplierInvoiceForm.vue'
import SupplierOrderLines from '#web/supplier-pages/SupplierOrderLines.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

const route = useRoute()
const session = useSession()
const id = computed(() => String(route.params.id))
const wanted = computed(() => (typeof route.query.revision === 'string' ? Number(route.query.revision) : undefined))
const order = shallowRef<OwnOrder>()
const bills = shallowRef<ResponseOf<typeof ReadWhatBills>>()
const billOf = computed(() => new Map(bills.value?.lines.map(line => [line.lineId, line])))
const draft = computed(() => bills.value?.draft ?? null)
const failure = shallowRef<unknown>()
const { busy, reasons, run, clear } = useAction()
const mode = ref<'read' | 'propose' | 'invoice'>('read')
const answers = reactive<Record<string, LineAnswer>>({})
const note = ref('')
const invoice = reactive<InvoiceEntry>({
  number: '',
  issueDate: session.today,
  freight: '0',
  taxCategory: 'AE',
  taxRate: '0',
  quantities: {},
  prices: {},
})
const made = ref('')

async function load(): Promise<void> {
  try {
    order.value = await api(SupplierOrder, { params: { id: id.value }, query: { revision: wanted.value } })
    bills.value = await api(ReadWhatBills, { params: { id: id.value } })
    failure.value = undefined
  } catch (error) {
    failure.value = error
  }
}
watch(
  [id, wanted],
  () => {
    mode.value = 'read'
    order.value = undefined
    void load()
  },
  { immediate: true },
)

// whoever is writing an answer or an invoice keeps what they see; the server says when it is not the current revision
useNews(
  () => [documentTopic(id.value)],
  () => {
    if (mode.value === 'read') void load()
  },
)

/** What confirms a line as it is ordered. */
function asked(line: OwnOrder['lines'][number]): LineAnswer {
  const { lineId: _line, ...answer } = asWanted(line, session.today)
  return answer
}
function propose(): void {
  clear()
  for (const line of order.value!.lines) answers[line.lineId] = asked(line)
  mode.value = 'propose'
}
const readFile = (text: string) => api(OwnAnswerFile, { params: { id: id.value }, body: { text } })
function fill(answer: ResponseOf<typeof OwnAnswerFile>): void {
  for (const { lineId, ...line } of answer.lines) answers[lineId] = line
  note.value ||= answer.note
}
function bill(): void {
  clear()
  const kept = draft.value
  const begun = new Map(kept?.lines.map(line => [line.lineId, line]))
  for (const line of order.value!.lines) {
    invoice.quantities[line.lineId] = kept
      ? (begun.get(line.lineId)?.quantity ?? '0')
      : (billOf.value.get(line.lineId)?.open ?? '0')
    invoice.prices[line.lineId] = begun.get(line.lineId)?.price ?? line.price
  }
  Object.assign(invoice, {
    number: kept?.number ?? '',
    issueDate: kept?.issueDate || session.today,
    freight: kept?.freight ?? (order.value!.invoices.length ? '0' : order.value!.charges),
    ...(kept ? { taxCategory: kept.taxCategory, taxRate: kept.taxRate } : {}),
  })
  mode.value = 'invoice'
}
/** Only what waits for nothing. */
function billReady(): void {
  for (const line of order.value!.lines) invoice.quantities[line.lineId] = billOf.value.get(line.lineId)?.ready ?? '0'
}
/** What is written of the invoice, without lines of nothing. */
const written = () => ({
  revision: order.value!.revision,
  number: invoice.number,
  issueDate: invoice.issueDate,
  freight: invoice.freight,
  taxCategory: invoice.taxCategory,
  taxRate: invoice.taxRate,
  lines: order
    .value!.lines.filter(line => Number(invoice.quantities[line.lineId]) > 0)
    .map(({ lineId }) => ({ lineId, quantity: invoice.quantities[lineId]!, price: invoice.prices[lineId]! })),
})
async function keepForLater(): Promise<void> {
  if (!(await run(() => api(KeepInvoiceDraft, { params: { id: id.value }, body: written() })))) return
  mode.value = 'read'
  await load()
}
async function dropDraft(): Promise<void> {
  if (await run(() => api(DropInvoiceDraft, { params: { id: id.value } }))) await load()
}
async function respond(full: boolean): Promise<void> {
  const lines = order.value!.lines.map(line => ({
    lineId: line.lineId,
    ...(full ? asked(line) : answers[line.lineId]!),
  }))
  if (
    await run(() =>
      api(RespondToOrder, {
        params: { id: id.value },
        body: { revision: order.value!.revision, lines, note: note.value },
      }),
    )
  )
    mode.value = 'read'
  await load()
}
async function sendInvoice(): Promise<void> {
  const done = await run(() => api(SupplierInvoice, { params: { id: id.value }, body: written() }))
  if (done) {
    made.value = invoice.number
    mode.value = 'read'
    await load()
  }
}
const answered = computed(() => answeredWords(order.value?.response?.state ?? ''))
</script>

<template>
  <SupplierFrame>
    <SheetFailure v-if="failure" :failure="failure" @again="load" />
    <article v-else-if="order" class="order">
      <p class="quiet">
        <RouterLink to="/supplier">{{ t('Orders') }}</RouterLink> /
        {{
          t('Order {number}, revision {revision} of {day}', {
            number: order.number,
            revision: order.revision,
            day: day(order.issuedAt),
          })
        }}
        <a :href="pathOf(SupplierPdf, { id, revision: order.revision })" target="_blank">PDF</a>
        <a :href="pathOf(SupplierUbl, { id, revision: order.revision })" download>UBL</a>
      </p>
      <h1>{{ order.title }}</h1>
      <p v-for="reason in order.why" :key="reason.code" class="reasons check" data-test="why">
        {{ words(reason) }}
        <RouterLink v-if="reason.code === 'order.superseded'" :to="`/supplier/orders/${id}`">{{
          t('Open revision {revision}', { revision: order.current })
        }}</RouterLink>
      </p>
      <p v-if="order.why.length === 0" class="state" data-test="answered">
        {{ answered }}
        <span v-if="order.response?.answerReason" class="quiet">“{{ order.response.answerReason }}”</span>
      </p>
      <section v-if="order.differences.length" class="reasons note">
        <strong>{{ t('Changed since revision {revision}', { revision: order.revision - 1 }) }}</strong>
        <p v-if="order.reason">“{{ order.reason }}”</p>
        <DifferenceList :differences="order.differences" />
      </section>
      <p v-if="order.message" class="message">
        “{{ order.message }}” <span class="quiet">{{ order.buyer }}</span>
      </p>
      <p v-if="made" class="tone-settled" role="status" data-test="invoice-made">
        {{ t('Invoice {number} was taken in.', { number: made }) }}
      </p>
      <p v-if="mode === 'read'" class="bar acts">
        <ElButton
          v-if="order.answerable"
          type="primary"
          :disabled="busy"
          data-test="confirm-full"
          @click="respond(true)"
          >{{ t('Confirm in full') }}</ElButton><ElButton
          v-if="order.answerable"
          data-test="propose"
          @click="propose"
          >{{ t('Propose another date, quantity or price') }}</ElButton
        ><ElButton
          v-if="order.billable"
          :type="order.answerable ? '' : 'primary'"
          data-test="make-invoice"
          @click="bill"
          >{{ draft ? t('Go on with the invoice') : t('Make an invoice') }}</ElButton
        >
      </p>
      <p v-if="mode === 'read' && draft" class="quiet" data-test="invoice-draft">
        {{
          t('An invoice was begun by {who} {since} and is not sent.', {
            who: draft.by,
            since: since(draft.at),
          })
        }}<template v-if="draft.revision !== order.revision"> {{ t('The order has changed since then.') }}</template>
        <ElButton link :disabled="busy" data-test="drop-draft" @click="dropDraft">{{ t('Throw it away') }}</ElButton>
      </p>
      <ReasonList v-if="mode !== 'invoice'" :reasons="reasons" />
      <AnswerFromFile v-if="mode === 'propose'" :read="readFile" :revision="order.revision" @read="fill" />
      <SupplierOrderLines :order="order" :mode="mode" :answers="answers" :invoice="invoice" :bills="billOf" />
      <section v-if="order.clauses.length && mode === 'read'" class="section">
        <h2>{{ t('Clauses') }}</h2>
        <ClauseList :clauses="order.clauses" />
      </section>
      <section v-if="mode === 'propose'" class="section">
        <FormField :label="t('A word to the buyer')"><ElInput v-model="note" type="textarea" :rows="2" /></FormField>
        <p class="bar acts">
          <ElButton type="primary" :disabled="busy" data-test="send-proposal" @click="respond(false)">{{
            t('Send the proposal')
          }}</ElButton><ElButton @click="mode = 'read'">{{ t('Leave it') }}</ElButton>
        </p>
      </section>
      <SupplierInvoiceForm
        v-if="mode === 'invoice'"
        :model-value="invoice"
        :busy="busy"
        :reasons="reasons"
        @send="sendInvoice"
        @keep="keepForLater"
        @ready="billReady"
        @leave="mode = 'read'"
      />
      <template v-if="mode === 'read' && order.current === order.revision"
        ><SupplierDespatch :key="`d${order.revision}`" :order="order" /><SupplierReports
          :key="`w${order.revision}`"
          :order-id="id"
      /></template>
      <section v-if="order.invoices.length" class="section">
        <h2>{{ t('Your invoices') }}</h2>
        <LineTable
          :rows="order.invoices"
          :columns="lineColumns({ number: t('Number'), state: t('State'), due: t('Due'), '#amount': t('Amount') })"
          :label="t('Invoices')"
          bare
          :key-of="one => one.id"
          ><template #number="{ row: one }"
            ><RouterLink :to="`/supplier/invoices/${one.id}`">{{ one.number }}</RouterLink></template
          >
          <template #state="{ row: one }">{{ invoiceState(one.state) }}</template>
          <template #due="{ row: one }">{{
            one.dueOn && !['paid', 'rejected'].includes(one.state) ? t('due {day}', { day: day(one.dueOn) }) : ''
          }}</template>
          <template #amount="{ row: one }"
            >{{ amountText(one.gross) }} <span class="unit">{{ order.currency }}</span></template
          ></LineTable
        >
      </section>
      <p v-if="order.revisions.length > 1" class="section quiet bar">
        {{ t('Revisions:') }}
        <template v-for="one in order.revisions" :key="one"
          ><RouterLink :to="one === order.current ? `/supplier/orders/${id}` : `/supplier/orders/${id}?revision=${one}`"
            >{{ one }} {{ one === order.current ? t('(current)') : '' }}</RouterLink
          > </template
        ><span v-if="order.response">{{ t('Answered {when}.', { when: since(order.response.at) }) }}</span>
      </p>
    </article>
  </SupplierFrame>
</template>

<style scoped>
.order {
  background: var(--sheet);
  border: 1px solid var(--rule);
  padding: 22px 26px 30px;
}
.acts {
  margin: 14px 0;
}
.state {
  font-size: 14px;
  margin-top: 4px;
}
.message {
  font-style: italic;
  margin: 10px 0;
}
@media (max-width: 700px) {
  .order {
    padding: 16px 12px;
    overflow-x: auto;
  }
}
</style>
