<script setup lang="ts">
import { ElButton, ElDatePicker, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onBeforeUnmount, onMounted, reactive, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ActOnRequisition, CheckRequisition, type LineBody, ReadChoices, type ReadRequisition, SaveRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import { api } from '#web/api.ts'
import BudgetBar from '#web/charts/BudgetBar.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import NumberField from '#web/shared/NumberField.vue'
import QuickLineField from '#web/request/QuickLineField.vue'
import ProposeDialog from '#web/source/ProposeDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, priceText, unit } from '#web/shared/words.ts'

/** A draft: kept by itself a moment after each change; shows budget and decisions before it is submitted. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadRequisition>; stale: boolean }>()
const emit = defineEmits<{ typing: [typing: boolean]; changed: [] }>()
const router = useRouter()
const { busy, reasons, run, clear } = useAction()
type EditedLine = Omit<LineBody, 'id'> & { id: string }

const version = ref(props.sheet.version)
const form = reactive({ title: props.sheet.title, reason: props.sheet.reason, lines: props.sheet.lines.map(toEdited) })
const kept = ref('')
const choices = shallowRef<ResponseOf<typeof ReadChoices>>()
const checked = shallowRef<ResponseOf<typeof CheckRequisition>>()
const checkReason = ref('')
let timer: ReturnType<typeof setTimeout> | undefined
let saving: Promise<void> | undefined
let dirty = false

function toEdited(line: ResponseOf<typeof ReadRequisition>['lines'][number]): EditedLine {
  const { id, kind, itemId, offerId, description, quantity, unit: unitCode, price, priceBase, currency, supplierId, needBy, addressId, splits } = line
  return { id, kind, itemId, offerId, description, quantity, unit: unitCode, price, priceBase, currency, supplierId, needBy, addressId, splits: splits.map(split => ({ ...split })) }
}

watch(form, () => {
  dirty = true
  emit('typing', true)
  clearTimeout(timer)
  timer = setTimeout(() => void keep(), 700)
}, { deep: true })

/** Saves what is typed; a save that runs is waited for, so that versions never cross. */
async function keep(): Promise<void> {
  clearTimeout(timer)
  await saving
  if (!dirty) return
  dirty = false
  saving = (async () => {
    const done = await run(() => api(SaveRequisition, { params: { id: props.sheet.id }, body: { version: version.value, title: form.title, reason: form.reason, lines: form.lines.map(line => ({ ...line, quantity: line.quantity || '0', price: line.price || '0' })) } }))
    if (done) {
      version.value = done.version
      kept.value = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' }).format(new Date())
      if (!dirty) emit('typing', false)
      await check()
    } else dirty = true
  })()
  await saving
  saving = undefined
}
async function check(): Promise<void> {
  checked.value = await api(CheckRequisition, { params: { id: props.sheet.id } }).catch(() => checked.value)
}
onMounted(async () => { choices.value = await api(ReadChoices); await check() })
onBeforeUnmount(() => { if (dirty) void keep() })

function addLine(kind: 'goods' | 'fixedPriceWork'): void {
  const last = form.lines.at(-1)
  const usual = choices.value?.usual
  form.lines.push({
    id: crypto.randomUUID(), kind, itemId: null, offerId: null, description: '', quantity: '1', unit: kind === 'goods' ? 'C62' : 'E48', price: '', priceBase: '1', currency: 'EUR', supplierId: last?.supplierId ?? null, needBy: last?.needBy ?? null, addressId: last?.addressId ?? usual?.addressId ?? null,
    splits: last?.splits.length ? last.splits.map(split => ({ ...split })) : usual?.accountId ? [{ accountId: usual.accountId, share: '100' }] : [],
  })
}
/** Lines from the quick field: the first names the request when it has no name yet. */
function addQuick(lines: readonly Omit<LineBody, 'id'>[]): void {
  if (form.title.trim() === '' && lines[0]) form.title = lines.length === 1 ? lines[0].description : `${lines[0].description} and ${lines.length - 1} more`
  for (const line of lines) form.lines.push({ ...line, id: crypto.randomUUID(), splits: line.splits.map(split => ({ ...split, share: '100' })) })
}
const stops = computed(() => checked.value?.reasons.filter(reason => reason.level === 'stop') ?? [])
const asks = computed(() => checked.value?.reasons.filter(reason => reason.level === 'check') ?? [])
const amountOf = (id: string): string => { const line = props.sheet.lines.find(one => one.id === id); return line ? amountText(line.baseAmount) : '' }
const tomorrow = (date: Date): boolean => date.getTime() < Date.now() - 86_400_000

async function submit(): Promise<void> {
  clear()
  await keep()
  if (reasons.value.length) return
  const done = await run(() => api(SubmitRequisition, { params: { id: props.sheet.id }, body: { version: version.value, checkReason: checkReason.value || undefined } }))
  if (done) { emit('typing', false); emit('changed') }
}
async function act(name: string): Promise<void> {
  if (name === 'submit') return submit()
  await keep()
  if (await run(() => api(ActOnRequisition, { params: { id: props.sheet.id }, body: { version: version.value, action: name as 'cancel', reason: 'Not needed any more.' } }))) { emit('typing', false); emit('changed'); if (name === 'cancel') await router.push('/request') }
}
function reloaded(): void {
  dirty = false
  emit('typing', false)
  emit('changed')
}
watch(() => props.sheet.version, now => { if (now > version.value && !dirty) { version.value = now; Object.assign(form, { title: props.sheet.title, reason: props.sheet.reason, lines: props.sheet.lines.map(toEdited) }) } })
/** A proposed supplier stands on the line at once; the order waits until it is onboarded. */
const proposing = ref('')
async function proposed(supplierId: string): Promise<void> {
  choices.value = await api(ReadChoices)
  const line = form.lines.find(one => one.id === proposing.value)
  if (line) line.supplierId = supplierId
}
</script>

<template>
  <SheetFrame :sheet="{ ...sheet, budgets: [], steps: checked?.steps ?? [], thread: null }" :busy="busy" :stale="stale" @act="act" @changed="reloaded">
    <template #kind><b>Request {{ sheet.number }}</b>, {{ sheet.state === 'returned' ? 'sent back for changes' : 'a draft' }}<span v-if="kept" data-test="kept">, kept {{ kept }}</span></template>
    <template #title><ElInput v-model="form.title" class="title" placeholder="What is it for?" aria-label="Title" data-place="title" data-test="title" maxlength="300" /></template>
    <template #notice>
      <ReasonList :reasons="reasons" />
      <ReasonList v-if="checked && form.lines.length" :reasons="checked.reasons" />
      <label v-if="asks.length && !stops.length" class="field asks">Your reason, for those who decide<ElInput v-model="checkReason" data-test="check-reason" /></label>
    </template>
    <QuickLineField @add="addQuick" />
    <section v-for="(line, index) in form.lines" :key="line.id" class="line">
      <p class="bar head"><span class="unit">{{ index + 1 }}</span><b>{{ line.kind === 'goods' ? 'Goods by count' : 'Fixed-price work' }}</b><span v-if="line.offerId" class="quiet">from the catalogue, price as offered: {{ priceText(sheet.lines.find(one => one.id === line.id)?.price ?? line.price) }} {{ line.currency }}{{ line.priceBase === '1' ? '' : ` per ${line.priceBase}` }}</span><span class="amount">{{ amountOf(line.id) }}</span><button type="button" class="plain" @click="form.lines.splice(index, 1)">take out</button></p>
      <div class="fields">
        <label class="field wide" :data-place="`lines.${index + 1}.description`">{{ line.kind === 'goods' ? 'What' : 'What is to be done' }}<ElInput v-model="line.description" :disabled="line.offerId !== null" maxlength="300" :data-test="`description-${index}`" /></label>
        <label v-if="line.kind === 'goods'" class="field" :data-place="`lines.${index + 1}.quantity`">Quantity, {{ unit(line.unit) }}<NumberField v-model="line.quantity" label="Quantity" :data-test="`quantity-${index}`" /></label>
        <label v-if="!line.offerId && line.kind === 'goods'" class="field">Unit<ElSelect v-model="line.unit" filterable><ElOption v-for="one in choices?.units" :key="one.code" :value="one.code" :label="one.label" /></ElSelect></label>
        <label v-if="!line.offerId" class="field" :data-place="`lines.${index + 1}.price`">{{ line.kind === 'goods' ? 'Unit price' : 'Amount' }}<NumberField v-model="line.price" label="Price" :data-test="`price-${index}`" /></label>
        <label v-if="!line.offerId" class="field">Currency<ElSelect v-model="line.currency" filterable><ElOption v-for="code in choices?.currencies" :key="code" :value="code" :label="code" /></ElSelect></label>
        <label v-if="!line.offerId" class="field wide" :data-place="`lines.${index + 1}.supplierId`">Supplier<ElSelect v-model="line.supplierId" filterable :data-test="`supplier-${index}`"><ElOption v-for="one in choices?.suppliers" :key="one.id" :value="one.id" :label="one.label" /></ElSelect><button type="button" class="plain" :data-test="`propose-${index}`" @click.prevent="proposing = line.id">not there? propose it</button></label>
        <label class="field two" :data-place="`lines.${index + 1}.needBy`" :data-test="`need-by-${index}`">Needed by<ElDatePicker v-model="line.needBy" type="date" value-format="YYYY-MM-DD" format="D MMM YYYY" :disabled-date="tomorrow" aria-label="Needed by" /></label>
        <label class="field wide" :data-place="`lines.${index + 1}.addressId`">{{ line.kind === 'goods' ? 'Deliver to' : 'Done at' }}<ElSelect v-model="line.addressId" filterable :data-test="`address-${index}`"><ElOption v-for="one in choices?.addresses" :key="one.id" :value="one.id" :label="one.label" /></ElSelect></label>
      </div>
      <div class="splits" :data-place="`lines.${index + 1}.splits`">
        <p v-for="(split, at) in line.splits" :key="at" class="bar"><ElSelect v-model="split.accountId" filterable aria-label="Account" style="width: 340px" :data-test="`account-${index}-${at}`"><ElOption v-for="one in choices?.accounts" :key="one.id" :value="one.id" :label="one.label" /></ElSelect><template v-if="line.splits.length > 1"><NumberField v-model="split.share" label="Share" width="84px" /><span class="unit">share</span></template><button v-if="line.splits.length > 1" type="button" class="plain" @click="line.splits.splice(at, 1)">take out</button></p>
        <button type="button" class="plain" :data-test="`add-account-${index}`" @click="line.splits.push({ accountId: '', share: '100' })">{{ line.splits.length ? 'Split over another account' : 'Choose the account that pays' }}</button>
      </div>
    </section>
    <p class="bar add"><ElButton data-test="add-goods" @click="addLine('goods')">Add goods</ElButton><ElButton data-test="add-work" @click="addLine('fixedPriceWork')">Add fixed-price work</ElButton><RouterLink to="/request/catalogue">or take it from the catalogue</RouterLink><span v-if="sheet.lines.length" class="total">{{ amountText(checked?.total ?? sheet.total) }} <span class="unit">{{ sheet.baseCurrency }}</span></span></p>
    <label class="field reason">Why it is needed, if that helps those who decide<ElInput v-model="form.reason" type="textarea" :rows="2" maxlength="4000" /></label>
    <template #margin><section v-if="checked?.budgets.length"><h3>Money before and after</h3><BudgetBar v-for="figures in checked.budgets" :key="figures.accountId" :figures="figures" /></section></template>
  </SheetFrame>
  <ProposeDialog v-if="proposing" :requisition-id="sheet.id" @close="proposing = ''" @proposed="proposed" />
</template>

<style scoped>
.title { max-width: 640px; } .title :deep(.el-input__inner) { font: 600 22px var(--serif); height: 38px; } .asks { max-width: 560px; }
.line { border-top: 1px solid var(--ink); margin-top: 18px; padding-top: 8px; } .head .amount { margin-left: auto; font-weight: 600; } .fields { display: grid; grid-template-columns: repeat(6, minmax(0, 1fr)); gap: 8px 12px; margin: 8px 0; } .wide { grid-column: span 3; } .two { grid-column: span 2; } .fields :deep(.el-date-editor) { width: 100%; } .splits { display: flex; flex-direction: column; gap: 6px; } .add { margin-top: 20px; } .add .total { margin-left: auto; font-weight: 600; font-size: 16px; } .reason { margin-top: 18px; }
@media (max-width: 700px) { .fields { grid-template-columns: repeat(2, minmax(0, 1fr)); } .wide { grid-column: span 2; } }
</style>
