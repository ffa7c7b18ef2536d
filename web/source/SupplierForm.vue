<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElOption, ElSelect } from 'element-plus'
import { reactive, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ChangeSupplier, CONTACT_ROLES, CreateSupplier, LOCATION_ROLES, SimilarSuppliers, type SupplierBody } from '#contract/source/endpoints.ts'
import { currencies } from '#core/money/currency.ts'
import { IDENTIFIER_SCHEMES } from '#core/source/identifiers.ts'
import { api } from '#web/api.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'

const props = defineProps<{ supplier?: SupplierBody; id?: string; version?: number }>()
const emit = defineEmits<{ saved: []; leave: [] }>()
const router = useRouter()
const { busy, reasons, run, at } = useAction()
const EMPTY: SupplierBody = { name: '', kind: 'company', currency: 'EUR', terms: { days: 30, from: 'invoice' }, overReceiptPercent: 0, categories: [], identifiers: [{ scheme: 'vat', value: '' }], locations: [{ name: 'Head office', street: '', postalCode: '', city: '', country: '', roles: ['takesOrders', 'invoices'] }], contacts: [{ name: '', email: '', phone: '', roles: ['orders'] }] }
const form = reactive<SupplierBody>(JSON.parse(JSON.stringify(props.supplier ?? EMPTY)) as SupplierBody)
const categories = ref(form.categories.join(', '))
const similar = shallowRef<ResponseOf<typeof SimilarSuppliers>['similar']>([])
const LOCATION_LABELS: Readonly<Record<string, string>> = { takesOrders: 'takes orders', shipsFrom: 'ships from', invoices: 'invoices', paidAt: 'is paid at' }
const SCHEME_LABELS: Readonly<Record<string, string>> = { vat: 'VAT number', registration: 'Registration number', gln: 'GLN', lei: 'LEI', other: 'Other number' }

let timer: ReturnType<typeof setTimeout> | undefined
watch(() => form.name, name => {
  clearTimeout(timer)
  if (!props.id) timer = setTimeout(async () => { similar.value = name.length < 3 ? [] : (await api(SimilarSuppliers, { query: { name } }).catch(() => ({ similar: [] }))).similar }, 250)
})

async function save(): Promise<void> {
  const body: SupplierBody = { ...form, categories: categories.value.split(',').map(one => one.trim()).filter(Boolean), identifiers: form.identifiers.filter(one => one.value.trim() !== ''), locations: form.locations.filter(one => one.country !== ''), contacts: form.contacts.filter(one => one.name !== '' || one.email !== '') }
  const done = await run(() => (props.id ? api(ChangeSupplier, { params: { id: props.id }, body: { ...body, version: props.version ?? 1 } }) : api(CreateSupplier, { body })))
  if (!done) return
  emit('saved')
  if (!props.id) await router.push(`/source/${done.id}`)
}
function toggle<T>(list: T[], value: T): void {
  const index = list.indexOf(value)
  if (index < 0) list.push(value)
  else list.splice(index, 1)
}
</script>

<template>
  <form class="form" @submit.prevent="save">
    <h1>{{ id ? 'Change the supplier' : 'A new supplier' }}</h1>
    <label class="field name" data-place="name">Name<ElInput v-model="form.name" maxlength="300" data-test="supplier-name" /></label>
    <div v-if="similar.length" class="reasons check" role="status"><strong>Perhaps it is here already</strong><ul><li v-for="one in similar" :key="one.id"><RouterLink :to="`/source/${one.id}`">{{ one.name }}</RouterLink> {{ one.number }}, {{ one.city }} {{ one.country }}: {{ one.likeness }} % alike by name</li></ul></div>
    <div class="form-grid">
      <label>Kind<ElSelect v-model="form.kind"><ElOption value="company" label="Company" /><ElOption value="person" label="Person" /></ElSelect></label>
      <label>Currency<ElSelect v-model="form.currency" filterable><ElOption v-for="code in currencies" :key="code" :value="code" :label="code" /></ElSelect></label>
      <label>Payment after, days<ElInput :model-value="String(form.terms.days)" inputmode="numeric" @update:model-value="form.terms.days = Number(String($event).replace(/\D/g, '').slice(0, 3))" /></label>
      <label>Counted from<ElSelect v-model="form.terms.from"><ElOption value="invoice" label="invoice date" /><ElOption value="receipt" label="receipt" /><ElOption value="endOfMonth" label="end of month" /></ElSelect></label>
      <label>More may come, %<ElInput :model-value="String(form.overReceiptPercent)" inputmode="numeric" @update:model-value="form.overReceiptPercent = Math.min(100, Number(String($event).replace(/\D/g, '').slice(0, 3)))" /></label>
      <label>Sells (with commas)<ElInput v-model="categories" /></label>
    </div>
    <section class="section"><h2>Numbers</h2>
      <div v-for="(one, index) in form.identifiers" :key="index" class="line" :data-place="`identifiers.${index}.value`"><ElSelect v-model="one.scheme" aria-label="Kind of number" style="width: 180px"><ElOption v-for="scheme in IDENTIFIER_SCHEMES" :key="scheme" :value="scheme" :label="SCHEME_LABELS[scheme]!" /></ElSelect><ElInput v-model="one.value" aria-label="Number" data-test="identifier" /><button type="button" class="plain" @click="form.identifiers.splice(index, 1)">take out</button><span v-if="at(`identifiers.${index}.value`).length" class="field-fault">not valid</span></div>
      <button type="button" class="plain" @click="form.identifiers.push({ scheme: 'registration', value: '' })">Add a number</button></section>
    <section class="section"><h2>Places</h2>
      <div v-for="(one, index) in form.locations" :key="index" class="block">
        <div class="form-grid"><label>Name<ElInput v-model="one.name" /></label><label>Street<ElInput v-model="one.street" /></label><label>Postal code<ElInput v-model="one.postalCode" /></label><label>Place<ElInput v-model="one.city" data-test="city" /></label><label>Country, two letters<ElInput v-model="one.country" maxlength="2" data-test="country" @blur="one.country = one.country.toUpperCase()" /></label></div>
        <p class="bar"><ElCheckbox v-for="role in LOCATION_ROLES" :key="role" :model-value="one.roles.includes(role)" :label="LOCATION_LABELS[role]!" @change="toggle(one.roles, role)" /><button type="button" class="plain" @click="form.locations.splice(index, 1)">take out</button></p></div>
      <button type="button" class="plain" @click="form.locations.push({ name: '', street: '', postalCode: '', city: '', country: '', roles: [] })">Add a place</button></section>
    <section class="section"><h2>People there</h2>
      <div v-for="(one, index) in form.contacts" :key="index" class="block">
        <div class="form-grid"><label>Name<ElInput v-model="one.name" data-test="contact-name" /></label><label>Mail address<ElInput v-model="one.email" data-test="contact-email" /></label><label>Telephone<ElInput v-model="one.phone" /></label></div>
        <p class="bar"><ElCheckbox v-for="role in CONTACT_ROLES" :key="role" :model-value="one.roles.includes(role)" :label="role" @change="toggle(one.roles, role)" /><button type="button" class="plain" @click="form.contacts.splice(index, 1)">take out</button></p></div>
      <button type="button" class="plain" @click="form.contacts.push({ name: '', email: '', phone: '', roles: ['orders'] })">Add a person</button></section>
    <ReasonList :reasons="reasons" />
    <p class="bar foot"><ElButton type="primary" native-type="submit" :disabled="busy || !form.name.trim()" data-primary data-test="save-supplier">{{ id ? 'Save' : 'Create the supplier' }}</ElButton><ElButton v-if="id" @click="emit('leave')">Leave it</ElButton></p>
  </form>
</template>

<style scoped>
.form { padding: 20px 28px 60px; max-width: 860px; display: flex; flex-direction: column; gap: 12px; } .section { margin-top: 10px; } .line { display: flex; gap: 10px; align-items: center; margin-bottom: 8px; max-width: 620px; } .block { border-bottom: 1px solid var(--rule-light); padding-bottom: 6px; margin-bottom: 10px; } .foot { margin-top: 14px; }
</style>
