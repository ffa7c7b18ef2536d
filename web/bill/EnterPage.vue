<script setup lang="ts">
import '#contract/messages/billing.ts'
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { EnterInvoice, ReadEntry } from '#contract/bill/entry.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { sumEntered } from '#core/bill/enterInvoice.ts'
import type { PaperValue } from '#core/bill/paperValues.ts'
import { formatAmount, roundAmount } from '#core/money/amount.ts'
import { Decimal, isDecimalText } from '#core/money/decimal.ts'
import { api, upload } from '#web/api.ts'
import EnteredLines from '#web/bill/EnteredLines.vue'
import { emptyLine, type EntryLine } from '#web/bill/entryLines.ts'
import PaperView from '#web/bill/PaperView.vue'
import WorkPage from '#web/frame/WorkPage.vue'
import CurrencyField from '#web/shared/CurrencyField.vue'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FileField from '#web/shared/FileField.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import SupplierField from '#web/shared/SupplierField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, day } from '#web/shared/words.ts'

/** An invoice that came without data, typed beside its paper: what is marked there is taken with a click, nothing by itself. */
type Entry = ResponseOf<typeof ReadEntry>
type Order = Entry['orders'][number]
const route = useRoute()
const router = useRouter()
const { busy, reasons, run } = useAction()
const fileId = ref(typeof route.query.file === 'string' ? route.query.file : '')
const entry = shallowRef<Entry>()
const supplierId = ref('')
const supplierName = ref('')
const orderId = ref('')
const head = ref({
  number: '',
  issueDate: '',
  dueOn: null as string | null,
  currency: 'EUR',
  iban: '',
  charges: '0',
  gross: '',
})
const lines = ref<EntryLine[]>([emptyLine()])

async function choose(files: readonly File[]): Promise<void> {
  const sent = await run(() => upload(files[0]!))
  if (sent) fileId.value = sent.id
}
/** The supplier and its orders, chosen or named on the paper. */
async function know(query: { supplierId?: string; named?: string }): Promise<void> {
  const known = await run(() => api(ReadEntry, { query }))
  if (!known?.supplier) return
  entry.value = known
  supplierId.value = known.supplier.id
  supplierName.value = known.supplier.name
  head.value.currency = known.supplier.currency
  if (known.orderId) bill(known.orderId)
  else if (!known.orders.some(order => order.id === orderId.value)) orderId.value = ''
}
async function chosen(id: string): Promise<void> {
  entry.value = undefined
  if (id) await know({ supplierId: id })
}
const order = computed((): Order | undefined => entry.value?.orders.find(one => one.id === orderId.value))
/** What is open of the order, to be compared with the paper. */
function bill(id: string): void {
  orderId.value = id
  if (!order.value) return
  head.value.currency = order.value.currency
  const open = order.value.lines.filter(line => !new Decimal(line.open).isZero())
  lines.value = open.map(line => ({
    ...emptyLine(lines.value[0]),
    orderLineId: line.id,
    description: line.description,
    quantity: line.open,
    unit: line.unit,
    price: line.price,
    priceBase: line.priceBase,
  }))
  if (lines.value.length === 0) lines.value = [emptyLine()]
}

/** What was clicked on the paper and can go to several places. */
const taken = shallowRef<{ value: string; places: readonly { name: string; set: () => void }[] }[]>([])
/** The field that somebody was in last: an amount or a day goes there. */
const last = shallowRef<((value: string) => void) | null>(null)
function take({ kind, values }: PaperValue): void {
  const fields = head.value
  const set = (field: 'number' | 'issueDate' | 'dueOn' | 'iban' | 'charges' | 'gross') => (value: string) =>
    (fields[field] = value)
  const value = values[0]!
  taken.value = []
  if (kind === 'invoiceNumber') fields.number = value
  else if (kind === 'iban') {
    fields.iban = value
    if (!supplierId.value) void know({ named: value })
  } else if (kind === 'vat' || kind === 'order') void know({ named: value })
  else {
    const places: [string, (value: string) => void][] =
      kind === 'day'
        ? [
            ['Dated', set('issueDate')],
            ['Due', set('dueOn')],
          ]
        : [
            ['To pay', set('gross')],
            ['Freight and charges', set('charges')],
            ...(last.value ? [['Where I was', last.value] as [string, (value: string) => void]] : []),
          ]
    taken.value = values.map(one => ({
      value: one,
      places: places.map(([name, put]) => ({ name, set: () => ((taken.value = []), put(one)) })),
    }))
  }
}
const figure = (text: string, otherwise = '0'): string => (isDecimalText(text) ? text : otherwise)
/** What the lines come to, as it is judged, and what of the paper is still apart. */
const sums = computed(() => {
  const { currency, charges, gross } = head.value
  const typed = lines.value.map(line => ({
    ...line,
    quantity: figure(line.quantity),
    price: figure(line.price),
    priceBase: new Decimal(figure(line.priceBase)).gt(0) ? line.priceBase : '1',
    taxRate: figure(line.taxRate),
  }))
  const summed = sumEntered({ lines: typed, charges: roundAmount(figure(charges), currency), currency })
  const text = (amount: bigint): string => formatAmount(amount, currency)
  const apart = isDecimalText(gross) ? roundAmount(gross, currency) - summed.gross : null
  return {
    nets: summed.lines.map(line => text(line.net)),
    net: text(summed.net),
    taxes: summed.taxes.map(one => ({ ...one, tax: text(one.tax) })),
    gross: text(summed.gross),
    apart: apart === null ? null : text(apart),
    fits: apart === 0n,
  }
})
async function enter(): Promise<void> {
  const { currency, number, issueDate, dueOn, iban, charges, gross } = head.value
  const amount = (text: string): string => formatAmount(roundAmount(figure(text), currency), currency)
  const body = {
    fileId: fileId.value || null,
    supplierId: supplierId.value,
    orderId: orderId.value || null,
    number,
    issueDate,
    dueOn,
    iban,
    currency,
    charges: amount(charges),
    gross: amount(gross),
    lines: lines.value.map(({ key: _key, ...line }) => line),
  }
  const done = await run(() => api(EnterInvoice, { body }))
  if (done) await router.push(`/bill/${done.id}`)
}
</script>

<template>
  <WorkPage :margin="0"
    ><h1>An invoice from paper</h1>
    <div class="beside">
      <div>
        <EntryForm :reasons="reasons" :busy="busy" columns @submit="enter">
          <FormField label="Supplier" place="supplierId"
            ><SupplierField
              :key="supplierName"
              :model-value="supplierId"
              :name="supplierName"
              mark="enter-supplier"
              @update:model-value="chosen"
          /></FormField>
          <FormField label="Order" place="orderId" :help="order ? 'What is open of it stands below: compare.' : ''"
            ><ElSelect
              :model-value="orderId"
              clearable
              :value-on-clear="''"
              :disabled="!entry"
              placeholder="None"
              aria-label="Order"
              data-test="enter-order"
              @change="bill"
              ><ElOption
                v-for="one in entry?.orders ?? []"
                :key="one.id"
                :value="one.id"
                :label="`${one.number}, ${one.title}`" /></ElSelect
          ></FormField>
          <FormField label="Their number" place="number"
            ><ElInput v-model="head.number" maxlength="60" data-test="enter-number"
          /></FormField>
          <FormField label="Dated" place="issueDate"
            ><DayField v-model="head.issueDate" label="Dated" empty="" mark="enter-dated"
          /></FormField>
          <FormField label="Due, where it says so" place="dueOn"
            ><DayField v-model="head.dueOn" label="Due" empty="By the terms" mark="enter-due"
          /></FormField>
          <FormField label="Currency" place="currency"><CurrencyField v-model="head.currency" /></FormField>
          <FormField label="Freight and charges" place="charges"
            ><NumberField v-model="head.charges" label="Freight and charges"
          /></FormField>
          <FormField label="To pay, as printed" place="gross"
            ><NumberField v-model="head.gross" label="To pay, as printed" data-test="enter-gross"
          /></FormField>
          <FormField label="Account that it names" place="iban"
            ><ElInput v-model="head.iban" maxlength="42" data-test="enter-iban"
          /></FormField>
          <EnteredLines
            v-model="lines"
            class="whole"
            :order="order"
            :currency="head.currency"
            :nets="sums.nets"
            @at="last = $event"
          />
          <p class="whole sums" data-test="enter-sums">
            Net {{ amountText(sums.net)
            }}<template v-for="tax in sums.taxes" :key="tax.category + tax.rate"
              >, VAT {{ tax.category }} {{ tax.rate }} % {{ amountText(tax.tax) }}</template
            >: <b>{{ head.currency }} {{ amountText(sums.gross) }}</b
            ><b v-if="sums.apart !== null" :class="sums.fits ? 'tone-settled' : 'tone-stop'">{{
              sums.fits ? ', as on the paper' : `, the paper asks for ${amountText(sums.apart)} more`
            }}</b>
          </p>
          <template #acts
            ><ElButton
              type="primary"
              native-type="submit"
              :disabled="busy || !supplierId || !head.number || !head.issueDate || !head.gross"
              data-test="enter-invoice"
              >Take it in</ElButton
            ><ElButton @click="router.push('/bill')">Leave it</ElButton></template
          >
        </EntryForm>
      </div>
      <div class="paper-side">
        <p v-if="!fileId" class="choose">
          <FileField
            label="Choose the paper: a PDF or a photo"
            accept=".pdf,.png,.jpg,.jpeg,.webp,application/pdf,image/*"
            mark="paper-file"
            @choose="choose"
          />
        </p>
        <p v-else class="quiet">What is underlined can be clicked.</p>
        <p v-for="one in taken" :key="one.value" class="bar" role="status" data-test="taken">
          <b>{{ one.places[0]?.name === 'Dated' ? day(one.value) : one.value }}</b> is
          <ElButton v-for="place in one.places" :key="place.name" size="small" @click="place.set">{{
            place.name
          }}</ElButton>
        </p>
        <PaperView v-if="fileId" :key="fileId" :file-id="fileId" @take="take" />
      </div>
    </div>
  </WorkPage>
</template>

<style scoped>
.beside {
  display: grid;
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
  gap: 28px;
}
.paper-side {
  position: sticky;
  top: 12px;
  max-height: calc(100vh - 90px);
  overflow: auto;
}
.whole {
  grid-column: 1 / -1;
}
@media (max-width: 900px) {
  .beside {
    grid-template-columns: minmax(0, 1fr);
  }
  .paper-side {
    position: static;
    max-height: none;
  }
}
</style>
