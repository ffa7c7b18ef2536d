<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import {
  ActOnInvoice,
  AnswerClearing,
  ClearHold,
  InvoiceFile,
  LinkInvoiceLine,
  LinkInvoiceLines,
  PostInvoice,
  ReadInvoice,
  ReadLinks,
} from '#contract/bill/endpoints.ts'
import { InvoiceDocument } from '#contract/bill/credits.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { api, pathOf } from '#web/api.ts'
import '#contract/messages/billing.ts'
import { isWrittenHere } from '#core/bill/outgoing.ts'
import CodeLines from '#web/bill/CodeLines.vue'
import WhatItSays from '#web/bill/WhatItSays.vue'
import DisputeTalk from '#web/bill/DisputeTalk.vue'
import DebitDialog from '#web/bill/DebitDialog.vue'
import GaugeBar from '#web/charts/GaugeBar.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, day, label, priceText, quantityText, since, unit } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { useSession } from '#web/people/session.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns, type LineSum } from '#web/shared/lineTable.ts'

const route = useRoute()
const session = useSession()
const id = computed(() => String(route.params.id))
const { sheet, failure, stale, reload } = useSheet(ReadInvoice, id)
const { busy, reasons, run, clear } = useAction()
const asking = ref('')
const holdId = ref('')
const debiting = ref(false)
const coding = ref(false)
/** What the debit note begins with. */
const fill = shallowRef<NonNullable<typeof sheet.value>['holds'][number]['debit']>(null)
const open = computed(() => sheet.value?.holds.filter(hold => hold.endedAt === null) ?? [])
const ended = computed(() => sheet.value?.holds.filter(hold => hold.endedAt !== null) ?? [])
const SOURCES: Readonly<Record<string, string>> = {
  file: 'read from a file',
  supplierPages: 'made on the supplier’s pages',
  entered: 'typed from the paper',
  selfBilled: 'written by us in the supplier’s name',
}
const WHAT: Readonly<Record<string, string>> = {
  void: 'What it billed and spent is taken out again by counter-entries.',
  clear:
    'The difference is accepted as it is; your reason stays with it. Where the rules name somebody for so much, they are asked first.',
  approve: 'The difference is accepted; what else stops the invoice stays.',
  reject: 'The invoice is not taken; the supplier has to send another. Its number may come again.',
  refuse: 'The difference still stops the invoice; whoever asked is told why.',
  withdraw: 'Nobody decides about the difference any more; it stops the invoice as before.',
}
const ANSWERS: Readonly<Record<string, 'approve' | 'reject' | 'withdraw'>> = {
  approve: 'approve',
  refuse: 'reject',
  withdraw: 'withdraw',
}
/** What the dialog about a difference is called, and its button. */
const CALLED: Readonly<Record<string, string>> = {
  clear: 'Accept the difference',
  approve: 'Accept the difference',
  refuse: 'Do not accept it',
  withdraw: 'Take the question back',
}
const ENDED: Readonly<Record<string, string>> = {
  causeGone: 'ended by itself: its cause is gone',
  rejected: 'the invoice was rejected',
  voided: 'the invoice was voided',
}

/** What stands below the lines: only figures that say anything. */
const sums = computed((): LineSum[] => {
  const { charges, taxes, prepaid, rounding, dueOn, open: toPay } = sheet.value!
  const row = (key: string, line: string, net: string): LineSum => ({ key, cells: { line, net } })
  const unless0 = (figure: string, made: LineSum): LineSum[] => (/^-?[0.]+$/.test(figure) ? [] : [made])
  return [
    ...unless0(charges, row('charges', 'Charges and allowances', amountText(charges))),
    ...taxes.map(({ category, rate, taxable, tax }) =>
      row(category + rate, `VAT ${category} ${rate} % on ${amountText(taxable)}`, amountText(tax)),
    ),
    ...unless0(prepaid, row('prepaid', 'Prepaid', `−${amountText(prepaid)}`)),
    ...unless0(rounding, row('rounding', 'Rounding', amountText(rounding))),
    ...unless0(sheet.value!.setOff, row('setOff', 'Set off by credits', `−${amountText(sheet.value!.setOff)}`)),
    {
      ...row('payable', `To pay${dueOn ? `, due ${day(dueOn)}` : ''}`, amountText(toPay)),
      total: true,
      mark: 'payable',
    },
  ]
})

async function act(name: string): Promise<void> {
  clear()
  if (name === 'post') {
    await run(() => api(PostInvoice, { params: { id: id.value }, body: { version: sheet.value!.version } }))
    return reload()
  }
  asking.value = name
}
async function go(reason: string): Promise<void> {
  const { version } = sheet.value!
  const params = { id: id.value, holdId: holdId.value }
  const answer = ANSWERS[asking.value]
  const done = await run(() =>
    asking.value === 'clear'
      ? api(ClearHold, { params, body: { version, reason } })
      : answer
        ? api(AnswerClearing, { params, body: { version, answer, reason } })
        : api(ActOnInvoice, { params: { id: id.value }, body: { version, action: asking.value as 'reject', reason } }),
  )
  if (done) {
    asking.value = ''
    await reload()
  }
}
function ask(name: string, hold: { id: string }): void {
  clear()
  holdId.value = hold.id
  asking.value = name
}
function debit(what: typeof fill.value): void {
  fill.value = what
  debiting.value = true
}
async function debited(): Promise<void> {
  debiting.value = false
  await reload()
}
/** What the loose lines are likely for; asked once somebody wants to see it. */
const proposals = shallowRef<ResponseOf<typeof ReadLinks>['proposals']>()
async function propose(): Promise<void> {
  proposals.value = (await run(() => api(ReadLinks, { params: { id: id.value } })))?.proposals
}
async function linkAll(): Promise<void> {
  const links = proposals.value!.map(({ lineId, orderLineId }) => ({ lineId, orderLineId }))
  const done = await run(() =>
    api(LinkInvoiceLines, { params: { id: id.value }, body: { version: sheet.value!.version, links } }),
  )
  if (done) proposals.value = undefined
  await reload()
}
async function link(lineId: string, orderLineId: string): Promise<void> {
  await run(() =>
    api(LinkInvoiceLine, { params: { id: id.value, lineId }, body: { version: sheet.value!.version, orderLineId } }),
  )
  await reload()
}
</script>

<template>
  <SheetFailure v-if="failure && !sheet" :failure="failure" @again="reload" />
  <SheetFrame v-else-if="sheet" :sheet="sheet" :busy="busy" :stale="stale" @act="act" @changed="reload">
    <template #kind
      ><b>Invoice {{ sheet.number }}</b
      >, their {{ sheet.supplierNumber }} of {{ day(sheet.issueDate) }}, {{ SOURCES[sheet.source]
      }}<template v-if="isWrittenHere(sheet.source)"
        >. <a :href="pathOf(InvoiceDocument, { id }, { form: 'pdf' })" target="_blank">Print</a>
        <a :href="pathOf(InvoiceDocument, { id }, { form: 'ubl' })">UBL</a>
        <a :href="pathOf(InvoiceDocument, { id }, { form: 'cii' })">CII</a></template
      ><template v-if="sheet.fileId"
        >. <a :href="pathOf(InvoiceFile, { id })" download>See the file</a></template
      ></template
    >
    <template #title
      ><h1>
        <RouterLink :to="sheet.supplierPath">{{ sheet.supplier }}</RouterLink>, {{ amountText(sheet.payable) }}
        <small class="unit">{{ sheet.currency }}</small>
      </h1></template
    >
    <template v-if="sheet.mayDebit" #acts
      ><ElButton data-test="debit-note" @click="debit(null)">Debit note</ElButton></template
    >
    <template #notice
      ><ReasonList v-if="!asking" :reasons="reasons" />
      <section v-for="hold in open" :key="hold.id" class="hold" data-test="hold">
        <p>
          <b>{{ laterLabel('held', hold.kind) }}</b><template v-if="hold.position">, line {{ hold.position }}</template
          >:
          <b
            ><template v-if="hold.quantity !== '0'">{{ quantityText(hold.quantity) }} {{ unit(hold.unit) }}, </template
            >{{ sheet.currency }} {{ amountText(hold.amount) }}</b
          >
          <span class="quiet">{{ since(hold.openedAt) }}</span>
        </p>
        <p v-if="hold.kind === 'dispute'" class="quiet">It ends when both sides agree, below.</p>
        <p v-else-if="hold.asked?.state !== 'open'" class="quiet">
          Can be cleared by
          {{ hold.clearers.length ? hold.clearers.join(', ') : label('role', hold.clearedBy) }}.<template
            v-if="hold.kind === 'proof'"
          >
            It ends by itself when it comes in.</template
          ><template v-if="hold.next">
            If nobody does, the {{ label('role', hold.next.role).toLowerCase() }} hears of it after
            {{ hold.next.hours }} working hours.</template
          >
        </p>
        <p class="bar">
          <ElButton v-if="hold.mayClear" size="small" data-test="clear-hold" @click="ask('clear', hold)"
            >Accept the difference</ElButton
          ><ElButton v-if="hold.debit" size="small" data-test="debit-hold" @click="debit(hold.debit)"
            >Pay the rest, take {{ sheet.currency }} {{ amountText(hold.amount) }} off</ElButton
          ><RouterLink v-if="hold.order" :to="hold.order.path" data-test="correct-order"
            >Correct order {{ hold.order.number }}: it ends by itself then</RouterLink
          >
        </p>
        <template v-if="hold.asked">
          <p data-test="asked">
            {{ hold.asked.askedBy }} would accept it: “{{ hold.asked.reason }}”
            <b v-if="hold.asked.state === 'open'" class="tone-attention"
              >{{ hold.asked.waitsFor.join(', ') }} decides.</b
            ><template v-else-if="hold.asked.refusedBy"
              ><b class="tone-stop">{{ hold.asked.refusedBy }} said no</b>: “{{ hold.asked.refusedReason }}”</template
            >
          </p>
          <p class="bar">
            <ElButton
              v-if="hold.asked.mayDecide"
              size="small"
              type="primary"
              data-test="approve-difference"
              @click="ask('approve', hold)"
              >Accept the difference</ElButton
            ><ElButton
              v-if="hold.asked.mayDecide"
              size="small"
              data-test="refuse-difference"
              @click="ask('refuse', hold)"
              >Do not accept it</ElButton
            ><ElButton v-if="hold.asked.mayWithdraw" size="small" @click="ask('withdraw', hold)"
              >Take the question back</ElButton
            >
          </p>
        </template>
      </section></template
    >
    <LineTable
      class="section"
      :rows="sheet.lines"
      :columns="
        lineColumns({
          '-position': 'Position',
          line: 'Line',
          '#quantity': 'Quantity',
          '#price': 'Price',
          '#net': `Net, ${sheet.currency}`,
          ordered: 'Ordered, and how far it has come',
        })
      "
      label="Lines"
      :key-of="line => line.id"
      :sums="sums"
      ><template #position="{ row: line }"
        ><span class="unit">{{ line.position }}</span></template
      >
      <template #line="{ row: line }"
        >{{ line.description }}<small>tax {{ line.tax }}</small></template
      >
      <template #quantity="{ row: line }"
        >{{ quantityText(line.quantity) }} <span class="unit">{{ unit(line.unit) }}</span></template
      >
      <template #price="{ row: line }"
        >{{ priceText(line.price) }}<span v-if="line.priceBase !== '1'" class="unit"> / {{ line.priceBase }}</span
        ><small v-if="line.orderPrice">ordered {{ line.orderPrice }}</small></template
      >
      <template #net="{ row: line }">{{ amountText(line.net) }}</template>
      <template #ordered="{ row: line }"
        ><template v-if="line.orderNumber"
          ><RouterLink v-if="line.orderPath" :to="line.orderPath"
            >{{ line.orderNumber }} line {{ line.orderPosition }}</RouterLink
          ><template v-else>{{ line.orderNumber }} line {{ line.orderPosition }}</template
          ><GaugeBar v-if="line.gauge" :gauge="line.gauge" /></template
        ><ElSelect
          v-else-if="sheet.linkable.length && session.may('invoice.write')"
          placeholder="Link to an order line"
          :aria-label="`Order line of line ${line.position}`"
          filterable
          default-first-option
          :model-value="''"
          :data-test="`link-${line.position}`"
          @change="link(line.id, $event)"
          ><ElOption v-for="one in sheet.linkable" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
        ><span v-else class="quiet">no order line</span></template
      >
    </LineTable>
    <p v-if="sheet.written" class="section" data-test="written">
      Nobody had ordered it.
      <RouterLink v-if="sheet.written.path" :to="sheet.written.path">Order {{ sheet.written.number }}</RouterLink
      ><template v-else>Order {{ sheet.written.number }}</template> was written for it
      <template v-if="sheet.written.waitsFor.length"
        >and waits for <b>{{ sheet.written.waitsFor.join(', ') }}</b>.</template
      ><b v-else-if="sheet.written.refused" class="tone-stop">and was refused.</b><template v-else>.</template>
    </p>
    <CodeLines
      v-if="coding && sheet.mayCode"
      :invoice-id="id"
      :version="sheet.version"
      :currency="sheet.currency"
      @coded="((coding = false), reload())"
      @leave="coding = false"
    />
    <section v-if="sheet.lines.some(line => !line.orderLineId) && session.may('invoice.write')" class="section">
      <ElButton v-if="sheet.mayCode && !coding" size="small" data-test="say-who-pays" @click="coding = true"
        >Nobody ordered it: say who pays</ElButton
      >
      <ElButton v-if="!proposals" size="small" :disabled="busy" data-test="propose-links" @click="propose"
        >Propose what the lines are for</ElButton
      >
      <p v-else-if="proposals.length === 0" class="quiet">No open order line is like them. Choose by hand above.</p>
      <template v-else
        ><h2>What the lines are likely for</h2>
        <p v-for="one in proposals" :key="one.lineId" data-test="link-proposal">
          {{ one.position }}: <b>{{ one.label }}</b>, {{ one.score }} of 100<span class="quiet">
            ({{ one.because.map(reason => laterLabel('like', reason)).join(', ') }})</span
          ><span v-if="one.others" class="tone-attention"> {{ one.others }} others are nearly as like it.</span>
        </p>
        <p class="bar">
          <ElButton type="primary" size="small" :disabled="busy" data-test="link-all" @click="linkAll"
            >Link them so</ElButton
          ><ElButton size="small" @click="proposals = undefined">Leave it</ElButton>
        </p></template
      >
    </section>
    <section v-if="sheet.credits.length" class="section" data-test="credits">
      <h2>Credit and debit notes</h2>
      <p v-for="one in sheet.credits" :key="one.id">
        <RouterLink :to="one.path"
          >{{ one.issuer === 'house' ? 'Debit note' : 'Credit note' }} {{ one.number }}</RouterLink
        ><template v-if="one.theirs">, their {{ one.theirs }}</template
        >: −{{ amountText(one.gross) }}, {{ label('state', one.state)
        }}<template v-if="one.reason"
          >. <span class="quiet">“{{ one.reason }}”</span></template
        >
      </p>
    </section>
    <DisputeTalk
      :invoice-id="id"
      :version="sheet.version"
      :disputes="sheet.disputes"
      side="house"
      :may-open="sheet.mayDispute"
      @changed="reload"
    />
    <WhatItSays v-if="sheet.source === 'file' && sheet.fileId" :key="id" :invoice-id="id" />
    <section v-if="ended.length" class="section">
      <h2>Earlier holds</h2>
      <p v-for="hold in ended" :key="hold.id">
        {{ laterLabel('held', hold.kind) }}<template v-if="hold.position">, line {{ hold.position }}</template
        >: {{ sheet.currency }} {{ amountText(hold.amount) }}.
        <span class="quiet">{{
          hold.endedBy
            ? `Cleared by ${hold.endedBy} ${since(hold.endedAt!)}: “${hold.endReason}”`
            : `${ENDED[hold.endReason ?? ''] ?? ''}, ${since(hold.endedAt!)}`
        }}</span>
      </p>
    </section>
    <template #margin
      ><section>
        <h3>Paid to</h3>
        <p v-if="!sheet.account" class="tone-attention">The supplier has no account yet.</p>
        <p v-else>
          … {{ sheet.account.iban.slice(-4) }},
          <span :class="sheet.account.state === 'proven' ? 'tone-settled' : 'tone-stop'">{{
            sheet.account.state === 'proven' ? 'checked' : 'changed and not checked yet: payments wait'
          }}</span>
        </p>
        <p v-if="sheet.askedAccount && sheet.askedAccount !== sheet.account?.iban" class="tone-stop">
          It asks to be paid to … {{ sheet.askedAccount.slice(-4) }}.
        </p>
        <p v-if="sheet.addressedTo" class="quiet">Addressed to {{ sheet.addressedTo }}</p>
      </section></template
    >
  </SheetFrame>
  <DebitDialog
    v-if="sheet"
    :id="id"
    :open="debiting"
    :version="sheet.version"
    :fill="fill"
    @close="debiting = false"
    @made="debited"
  />
  <ActDialog
    :open="asking !== ''"
    :title="CALLED[asking] ?? label('action', asking)"
    :what="WHAT[asking] ?? ''"
    :button="CALLED[asking] ?? label('action', asking)"
    :optional="asking === 'approve' || asking === 'withdraw'"
    :busy="busy"
    :reasons="reasons"
    :danger="asking === 'reject'"
    @close="asking = ''"
    @go="go"
  />
</template>

<style scoped>
.hold {
  border-left: 3px solid var(--madder);
  background: #fbeeea;
  padding: 8px 12px;
  margin-top: 10px;
}
h1 small {
  font: 14px var(--sans);
}
h1 a {
  color: inherit;
}
</style>
