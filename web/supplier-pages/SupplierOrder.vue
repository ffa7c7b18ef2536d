<script setup lang="ts">
import { ElButton, ElDatePicker, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { SupplierInvoice } from '#contract/bill/endpoints.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { RespondToOrder, SupplierOrder, SupplierPdf } from '#contract/order/endpoints.ts'
import { api, pathOf } from '#web/api.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { documentTopic, useNews } from '#web/news/news.ts'
import DifferenceList from '#web/order/DifferenceList.vue'
import { useSession } from '#web/people/session.ts'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, day, label, priceText, quantityText, since, unit, words } from '#web/shared/words.ts'
import SupplierFrame from '#web/supplier-pages/SupplierFrame.vue'

const route = useRoute()
const session = useSession()
const id = computed(() => String(route.params.id))
const wanted = computed(() => (typeof route.query.revision === 'string' ? Number(route.query.revision) : undefined))
const order = shallowRef<ResponseOf<typeof SupplierOrder>>()
const failure = shallowRef<unknown>()
const { busy, reasons, run, clear } = useAction()
const mode = ref<'read' | 'propose' | 'invoice'>('read')
const answers = reactive<Record<string, { quantity: string; price: string; date: string }>>({})
const note = ref('')
const invoice = reactive({
  number: '',
  issueDate: session.today,
  freight: '0',
  taxCategory: 'AE' as 'S' | 'AE' | 'K' | 'Z' | 'E' | 'G' | 'O',
  taxRate: '0',
  quantities: {} as Record<string, string>,
  prices: {} as Record<string, string>,
})
const made = ref('')

async function load(): Promise<void> {
  try {
    order.value = await api(SupplierOrder, { params: { id: id.value }, query: { revision: wanted.value } })
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

function propose(): void {
  clear()
  for (const line of order.value!.lines)
    answers[line.lineId] = { quantity: line.quantity, price: line.price, date: line.needBy ?? session.today }
  mode.value = 'propose'
}
function bill(): void {
  clear()
  for (const line of order.value!.lines) {
    invoice.quantities[line.lineId] = line.openToBill
    invoice.prices[line.lineId] = line.price
  }
  Object.assign(invoice, {
    number: '',
    issueDate: session.today,
    freight: order.value!.invoices.length ? '0' : order.value!.charges,
  })
  mode.value = 'invoice'
}
async function respond(full: boolean): Promise<void> {
  const lines = order.value!.lines.map(line => ({
    lineId: line.lineId,
    ...(full
      ? { quantity: line.quantity, price: line.price, date: line.needBy ?? session.today }
      : answers[line.lineId]!),
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
  const lines = order
    .value!.lines.filter(line => Number(invoice.quantities[line.lineId]) > 0)
    .map(line => ({
      lineId: line.lineId,
      quantity: invoice.quantities[line.lineId]!,
      price: invoice.prices[line.lineId]!,
    }))
  const done = await run(() =>
    api(SupplierInvoice, {
      params: { id: id.value },
      body: {
        revision: order.value!.revision,
        number: invoice.number,
        issueDate: invoice.issueDate,
        freight: invoice.freight,
        taxCategory: invoice.taxCategory,
        taxRate: invoice.taxRate,
        lines,
      },
    }),
  )
  if (done) {
    made.value = invoice.number
    mode.value = 'read'
    await load()
  }
}
const TAX = {
  S: 'Standard rate',
  AE: 'Reverse charge',
  K: 'Delivery inside the EU',
  G: 'Export',
  Z: 'Zero rate',
  E: 'Exempt',
  O: 'Not subject to VAT',
} as const
const INVOICE_STATE: Readonly<Record<string, string>> = {
  read: 'being looked at',
  onHold: 'being looked at',
  matched: 'being looked at',
  cleared: 'accepted',
  scheduled: 'being paid',
  paid: 'paid',
  rejected: 'rejected',
  voided: 'taken back',
}
const answered = computed(
  () =>
    ({
      confirmed: 'You confirmed it in full.',
      accepted: 'Your proposal was accepted.',
      waiting: 'Your proposal waits for the buyer.',
      refused: 'Your proposal was refused; please answer again.',
      superseded: 'The order changed after your proposal; please answer again.',
    })[order.value?.response?.state ?? ''] ?? 'It waits for your answer.',
)
</script>

<template>
  <SupplierFrame>
    <SheetFailure v-if="failure" :failure="failure" @again="load" />
    <article v-else-if="order" class="order">
      <p class="quiet">
        <RouterLink to="/supplier">Orders</RouterLink> / Order {{ order.number }}, revision {{ order.revision }} of
        {{ day(order.issuedAt) }}.
        <a :href="pathOf(SupplierPdf, { id, revision: order.revision })" target="_blank">PDF</a>
      </p>
      <h1>{{ order.title }}</h1>
      <p v-for="reason in order.why" :key="reason.code" class="reasons check" data-test="why">
        {{ words(reason) }}
        <RouterLink v-if="reason.code === 'order.superseded'" :to="`/supplier/orders/${id}`"
          >Open revision {{ order.current }}</RouterLink
        >
      </p>
      <p v-if="order.why.length === 0" class="state" data-test="answered">
        {{ answered }}
        <span v-if="order.response?.answerReason" class="quiet">“{{ order.response.answerReason }}”</span>
      </p>
      <section v-if="order.differences.length" class="reasons note">
        <strong>Changed since revision {{ order.revision - 1 }}</strong>
        <p v-if="order.reason">“{{ order.reason }}”</p>
        <DifferenceList :differences="order.differences" />
      </section>
      <p v-if="order.message" class="message">
        “{{ order.message }}” <span class="quiet">{{ order.buyer }}</span>
      </p>
      <p v-if="made" class="tone-settled" role="status" data-test="invoice-made">Invoice {{ made }} was taken in.</p>
      <p v-if="mode === 'read'" class="bar acts">
        <ElButton
          v-if="order.answerable"
          type="primary"
          :disabled="busy"
          data-test="confirm-full"
          @click="respond(true)"
          >Confirm in full</ElButton
        ><ElButton v-if="order.answerable" data-test="propose" @click="propose"
          >Propose another date, quantity or price</ElButton
        ><ElButton
          v-if="order.billable"
          :type="order.answerable ? '' : 'primary'"
          data-test="make-invoice"
          @click="bill"
          >Make an invoice</ElButton
        >
      </p>
      <ReasonList :reasons="reasons" />
      <table class="lines">
        <thead>
          <tr>
            <th />
            <th>What</th>
            <th class="num">Quantity</th>
            <th class="num">Unit price, {{ order.currency }}</th>
            <th class="num">{{ mode === 'propose' ? 'Your date' : 'Amount' }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in order.lines" :key="line.lineId">
            <td class="unit">{{ line.position }}</td>
            <td>
              {{ line.description }}<small v-if="line.terms">{{ line.terms }}</small
              ><small v-if="line.needBy"
                >needed by {{ day(line.needBy)
                }}<template v-if="line.promisedDate">, you promised {{ day(line.promisedDate) }}</template></small
              ><small v-if="Number(line.received) > 0"
                >{{ quantityText(line.received) }} {{ unit(line.unit) }} taken in,
                {{ quantityText(line.billed) }} invoiced</small
              >
            </td>
            <template v-if="mode === 'propose'"
              ><td><NumberField v-model="answers[line.lineId]!.quantity" label="Quantity" width="100px" /></td>
              <td>
                <NumberField
                  v-model="answers[line.lineId]!.price"
                  label="Price"
                  width="110px"
                  :data-test="`propose-price-${line.position}`"
                />
              </td>
              <td>
                <ElDatePicker
                  v-model="answers[line.lineId]!.date"
                  type="date"
                  value-format="YYYY-MM-DD"
                  format="D MMM YYYY"
                  :clearable="false"
                  style="width: 140px"
                /></td
            ></template>
            <template v-else-if="mode === 'invoice'"
              ><td>
                <NumberField
                  v-model="invoice.quantities[line.lineId]!"
                  label="Quantity to invoice"
                  width="100px"
                  :data-test="`bill-quantity-${line.position}`"
                />
              </td>
              <td>
                <NumberField
                  v-model="invoice.prices[line.lineId]!"
                  label="Price"
                  width="110px"
                  :data-test="`bill-price-${line.position}`"
                />
              </td>
              <td class="num quiet">{{ quantityText(line.openToBill) }} open</td></template
            >
            <template v-else
              ><td class="num">
                {{ quantityText(line.quantity) }} <span class="unit">{{ unit(line.unit) }}</span>
              </td>
              <td class="num">
                {{ priceText(line.price)
                }}<span v-if="line.priceBase !== '1'" class="unit"> / {{ line.priceBase }}</span>
              </td>
              <td class="num">{{ amountText(line.amount) }}</td></template
            >
          </tr>
          <tr v-if="Number(order.charges) > 0 && mode === 'read'">
            <td />
            <td colspan="3">Freight and charges</td>
            <td class="num">{{ amountText(order.charges) }}</td>
          </tr>
          <tr v-if="mode === 'read'" class="total">
            <td />
            <td colspan="3">
              Net. {{ order.terms }}<small>{{ order.address ? `Deliver to ${order.address}` : '' }}</small>
            </td>
            <td class="num">{{ amountText(order.total) }}</td>
          </tr>
        </tbody>
      </table>
      <section v-if="mode === 'propose'" class="section">
        <label class="field">A word to the buyer<ElInput v-model="note" type="textarea" :rows="2" /></label>
        <p class="bar acts">
          <ElButton type="primary" :disabled="busy" data-test="send-proposal" @click="respond(false)"
            >Send the proposal</ElButton
          ><ElButton @click="mode = 'read'">Leave it</ElButton>
        </p>
      </section>
      <section v-if="mode === 'invoice'" class="section">
        <div class="form-grid">
          <label>Your invoice number<ElInput v-model="invoice.number" data-test="invoice-number" /></label
          ><label
            >Dated<ElDatePicker
              v-model="invoice.issueDate"
              type="date"
              value-format="YYYY-MM-DD"
              format="D MMM YYYY"
              :clearable="false" /></label
          ><label>Freight<NumberField v-model="invoice.freight" label="Freight" /></label
          ><label
            >VAT<ElSelect v-model="invoice.taxCategory" data-test="tax"
              ><ElOption
                v-for="(name, code) in TAX"
                :key="code"
                :value="code"
                :label="`${name} (${code})`" /></ElSelect></label
          ><label v-if="invoice.taxCategory === 'S'"
            >Rate, %<NumberField v-model="invoice.taxRate" label="Tax rate"
          /></label>
        </div>
        <p class="bar acts">
          <ElButton
            type="primary"
            :disabled="busy || !invoice.number.trim()"
            data-test="send-invoice"
            @click="sendInvoice"
            >Send the invoice</ElButton
          ><ElButton @click="mode = 'read'">Leave it</ElButton>
        </p>
      </section>
      <section v-if="order.invoices.length" class="section">
        <h2>Your invoices</h2>
        <table class="lines">
          <tbody>
            <tr v-for="one in order.invoices" :key="one.id">
              <td>{{ one.number }}</td>
              <td>{{ INVOICE_STATE[one.state] ?? label('state', one.state) }}</td>
              <td>{{ one.dueOn && !['paid', 'rejected'].includes(one.state) ? `due ${day(one.dueOn)}` : '' }}</td>
              <td class="num">
                {{ amountText(one.gross) }} <span class="unit">{{ order.currency }}</span>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <p v-if="order.revisions.length > 1" class="section quiet bar">
        Revisions:
        <template v-for="one in order.revisions" :key="one"
          ><RouterLink :to="one === order.current ? `/supplier/orders/${id}` : `/supplier/orders/${id}?revision=${one}`"
            >{{ one }}{{ one === order.current ? ' (current)' : '' }}</RouterLink
          > </template
        ><span v-if="order.response">Answered {{ since(order.response.at) }}.</span>
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
table {
  margin-top: 12px;
}
@media (max-width: 700px) {
  .order {
    padding: 16px 12px;
    overflow-x: auto;
  }
}
</style>
