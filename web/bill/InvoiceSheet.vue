<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import {
  ActOnInvoice,
  ClearHold,
  InvoiceFile,
  LinkInvoiceLine,
  PostInvoice,
  ReadInvoice,
} from '#contract/bill/endpoints.ts'
import { api, pathOf } from '#web/api.ts'
import GaugeBar from '#web/charts/GaugeBar.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, day, label, priceText, quantityText, since, unit } from '#web/shared/words.ts'
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
const open = computed(() => sheet.value?.holds.filter(hold => hold.endedAt === null) ?? [])
const ended = computed(() => sheet.value?.holds.filter(hold => hold.endedAt !== null) ?? [])
const WHAT: Readonly<Record<string, string>> = {
  reject: 'The invoice is not taken; the supplier has to send another. Its number may come again.',
  void: 'What it billed and spent is taken out again by counter-entries.',
  clear: 'The difference is accepted as it is; your reason stays with it.',
}
const ENDED: Readonly<Record<string, string>> = {
  causeGone: 'ended by itself: its cause is gone',
  rejected: 'the invoice was rejected',
  voided: 'the invoice was voided',
}

/** What stands below the lines: only figures that say anything. */
const sums = computed((): LineSum[] => {
  const { charges, taxes, prepaid, rounding, dueOn, payable } = sheet.value!
  const row = (key: string, line: string, net: string): LineSum => ({ key, cells: { line, net } })
  const unless0 = (figure: string, made: LineSum): LineSum[] => (/^-?[0.]+$/.test(figure) ? [] : [made])
  return [
    ...unless0(charges, row('charges', 'Charges and allowances', amountText(charges))),
    ...taxes.map(({ category, rate, taxable, tax }) =>
      row(category + rate, `VAT ${category} ${rate} % on ${amountText(taxable)}`, amountText(tax)),
    ),
    ...unless0(prepaid, row('prepaid', 'Prepaid', `−${amountText(prepaid)}`)),
    ...unless0(rounding, row('rounding', 'Rounding', amountText(rounding))),
    {
      ...row('payable', `To pay${dueOn ? `, due ${day(dueOn)}` : ''}`, amountText(payable)),
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
  const done = await run(() =>
    asking.value === 'clear'
      ? api(ClearHold, { params: { id: id.value, holdId: holdId.value }, body: { version, reason } })
      : api(ActOnInvoice, { params: { id: id.value }, body: { version, action: asking.value as 'reject', reason } }),
  )
  if (done) {
    asking.value = ''
    await reload()
  }
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
      >, their {{ sheet.supplierNumber }} of {{ day(sheet.issueDate) }},
      {{ sheet.source === 'file' ? 'read from a file' : 'made on the supplier’s pages'
      }}<template v-if="sheet.fileId"
        >. <a :href="pathOf(InvoiceFile, { id })" download>See the file</a></template
      ></template
    >
    <template #title
      ><h1>
        <RouterLink :to="sheet.supplierPath">{{ sheet.supplier }}</RouterLink>, {{ amountText(sheet.payable) }}
        <small class="unit">{{ sheet.currency }}</small>
      </h1></template
    >
    <template #notice
      ><ReasonList v-if="!asking" :reasons="reasons" />
      <section v-for="hold in open" :key="hold.id" class="hold" data-test="hold">
        <p>
          <b>{{ label('held', hold.kind) }}</b><template v-if="hold.position">, line {{ hold.position }}</template
          >:
          <b
            ><template v-if="hold.quantity !== '0'">{{ quantityText(hold.quantity) }} {{ unit(hold.unit) }}, </template
            >{{ sheet.currency }} {{ amountText(hold.amount) }}</b
          >
        </p>
        <p class="quiet">
          Can be cleared by
          {{ hold.clearers.length ? hold.clearers.join(', ') : label('role', hold.clearedBy) }}.<template
            v-if="hold.kind === 'proof'"
          >
            It ends by itself when it comes in.</template
          >
        </p>
        <ElButton
          v-if="hold.mayClear"
          size="small"
          data-test="clear-hold"
          @click="
            () => {
              clear()
              holdId = hold.id
              asking = 'clear'
            }
          "
          >Accept the difference</ElButton
        >
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
          filterable
          default-first-option
          :model-value="''"
          :data-test="`link-${line.position}`"
          @change="link(line.id, $event)"
          ><ElOption v-for="one in sheet.linkable" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
        ><span v-else class="quiet">no order line</span></template
      >
    </LineTable>
    <section v-if="ended.length" class="section">
      <h2>Earlier holds</h2>
      <p v-for="hold in ended" :key="hold.id">
        {{ label('held', hold.kind) }}<template v-if="hold.position">, line {{ hold.position }}</template
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
          … {{ sheet.account.iban.slice(-8) }},
          <span :class="sheet.account.state === 'proven' ? 'tone-settled' : 'tone-stop'">{{
            sheet.account.state === 'proven' ? 'checked' : 'changed and not checked yet: payments wait'
          }}</span>
        </p>
        <p v-if="sheet.askedAccount && sheet.askedAccount !== sheet.account?.iban" class="tone-stop">
          It asks to be paid to … {{ sheet.askedAccount.slice(-8) }}.
        </p>
        <p v-if="sheet.addressedTo" class="quiet">Addressed to {{ sheet.addressedTo }}</p>
      </section></template
    >
  </SheetFrame>
  <ActDialog
    :open="asking !== ''"
    :title="asking === 'clear' ? 'Accept the difference' : label('action', asking)"
    :what="WHAT[asking] ?? ''"
    :button="asking === 'clear' ? 'Accept it' : label('action', asking)"
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
