<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { ActOnSupplier, ProveBankAccount, ReadSupplier, SetBankAccount } from '#contract/source/endpoints.ts'
import { api } from '#web/api.ts'
import SheetFailure from '#web/frame/SheetFailure.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import AskDialog from '#web/shared/AskDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, day, label, since } from '#web/shared/words.ts'
import SupplierForm from '#web/source/SupplierForm.vue'

const route = useRoute()
const id = computed(() => String(route.params.id))
const editing = ref(false)
const { sheet, failure, stale, reload } = useSheet(ReadSupplier, id, () => editing.value)
const { busy, reasons, run, clear } = useAction()
const asking = ref('')
const account = reactive({ open: false, iban: '', bic: '', holder: '' })
watch(id, () => { editing.value = false })
const current = computed(() => sheet.value?.bankAccounts.find(one => one.state !== 'closed'))
const ROLES: Readonly<Record<string, string>> = { takesOrders: 'takes orders', shipsFrom: 'ships from', invoices: 'invoices', paidAt: 'is paid at' }
const TERMS: Readonly<Record<string, string>> = { invoice: 'from the invoice date', receipt: 'from the receipt', endOfMonth: 'from the end of the month' }
const iban = (text: string): string => text.replace(/(.{4})/g, '$1 ').trim()
const WHAT: Readonly<Record<string, string>> = { prove: 'Say how you checked the account: whom you called, on which number known before. From then on it can be paid to.', pause: 'No new order can be issued until somebody resumes it. Open orders go on.', resume: 'New orders can be issued again.', bar: 'Nothing can be asked for or ordered here any more.', close: 'The record is kept and no longer offered.', reopen: 'The supplier comes back with new orders paused.' }

function act(name: string): void {
  clear()
  if (name === 'edit') editing.value = true
  else if (name === 'bankAccount') Object.assign(account, { open: true, iban: '', bic: '', holder: sheet.value!.title })
  else asking.value = name
}
async function go(reason: string): Promise<void> {
  const { version } = sheet.value!
  const done = await run(() => asking.value === 'prove'
    ? api(ProveBankAccount, { params: { id: id.value, accountId: current.value!.id }, body: { version, proof: reason } })
    : api(ActOnSupplier, { params: { id: id.value }, body: { version, action: asking.value as 'pause', reason } }))
  if (done) { asking.value = ''; await reload() }
}
async function saveAccount(): Promise<void> {
  if (await run(() => api(SetBankAccount, { params: { id: id.value }, body: { version: sheet.value!.version, iban: account.iban, bic: account.bic.toUpperCase(), holder: account.holder } }))) { account.open = false; await reload() }
}
</script>

<template>
  <SheetFailure v-if="failure" :failure="failure" @again="reload" />
  <SupplierForm v-else-if="editing && sheet" :id="id" :supplier="sheet.supplier" :version="sheet.version" @saved="editing = false; reload()" @leave="editing = false; reload()" />
  <SheetFrame v-else-if="sheet" :sheet="sheet" :busy="busy" :stale="stale" @act="act" @changed="reload">
    <template #kind><b>Supplier {{ sheet.number }}</b><template v-if="sheet.supplier.categories.length">, {{ sheet.supplier.categories.join(', ') }}</template></template>
    <section class="section facts">
      <p><span>Open orders</span><b>{{ sheet.figures.openOrders }}</b></p><p><span>Worth</span><b><small class="unit">{{ sheet.figures.currency }}</small> {{ amountText(sheet.figures.openValue) }}</b></p><p><span>Last order</span><b>{{ sheet.figures.lastOrder ? since(sheet.figures.lastOrder) : 'none yet' }}</b></p><p><span>Open invoices</span><b>{{ sheet.figures.openInvoices }}</b></p>
    </section>
    <section class="section"><h2>Paid to</h2>
      <p v-if="!current" class="quiet">No account yet.</p>
      <p v-else data-test="account"><b>{{ iban(current.iban) }}</b> {{ current.bic }}, {{ current.holder }}: <span :class="current.state === 'proven' ? 'tone-settled' : 'tone-attention'">{{ current.state === 'proven' ? `checked by ${current.provenBy}` : `entered by ${current.changedBy} ${since(current.changedAt)}, not checked yet` }}</span><br /><span class="quiet">{{ current.proof ? `“${current.proof}”` : '' }}</span></p>
      <p class="quiet">{{ sheet.supplier.terms.days }} days {{ TERMS[sheet.supplier.terms.from] }}, {{ sheet.supplier.currency }}. Up to {{ sheet.supplier.overReceiptPercent }} % more may come than was ordered.</p></section>
    <section class="section"><h2>Where they are</h2><table class="lines"><tbody><tr v-for="one in sheet.supplier.locations" :key="one.name"><td><b>{{ one.name }}</b></td><td>{{ one.street }}, {{ one.postalCode }} {{ one.city }}, {{ one.country }}</td><td class="quiet">{{ one.roles.map(role => ROLES[role]).join(', ') }}</td></tr></tbody></table></section>
    <section class="section"><h2>Who is there</h2><table class="lines"><tbody><tr v-for="one in sheet.supplier.contacts.slice(0, 30)" :key="one.name + one.email"><td><b>{{ one.name }}</b></td><td><a v-if="one.email" :href="`mailto:${one.email}`">{{ one.email }}</a></td><td>{{ one.phone }}</td><td class="quiet">{{ one.roles.join(', ') }}</td></tr></tbody></table><p v-if="sheet.supplier.contacts.length > 30" class="quiet">and {{ sheet.supplier.contacts.length - 30 }} more</p></section>
    <section v-if="sheet.orders.length" class="section"><h2>Latest orders</h2><table class="lines"><tbody><tr v-for="one in sheet.orders" :key="one.id"><td><RouterLink :to="`/order/${one.id}`">{{ one.number }}</RouterLink></td><td>{{ one.title }}</td><td>{{ label('state', one.state) }}</td><td class="num">{{ amountText(one.amount) }} <span class="unit">{{ one.currency }}</span></td></tr></tbody></table></section>
    <template #margin><section><h3>Numbers</h3><p v-for="one in sheet.supplier.identifiers" :key="one.value" class="kv"><span class="quiet">{{ one.scheme.toUpperCase() }}</span><span>{{ one.value }}</span></p></section>
      <section v-if="sheet.bankAccounts.length > 1"><h3>Earlier accounts</h3><p v-for="one in sheet.bankAccounts.filter(other => other.state === 'closed')" :key="one.id" class="kv"><span>… {{ one.iban.slice(-4) }}</span><span class="quiet">until {{ day(one.changedAt) }}</span></p></section></template>
  </SheetFrame>
  <AskDialog :open="asking !== ''" :title="label('action', asking)" :what="WHAT[asking] ?? ''" :button="label('action', asking)" :busy="busy" :reasons="reasons" :danger="asking === 'bar'" @close="asking = ''" @go="go" />
  <ElDialog v-model="account.open" title="Another account" width="480px">
    <p>The account waits until a second person has checked it with the supplier. Their contacts are told by mail.</p>
    <div class="account"><label class="field">IBAN<ElInput v-model="account.iban" data-test="iban" /></label><label class="field">BIC, if known<ElInput v-model="account.bic" maxlength="11" /></label><label class="field">Holder<ElInput v-model="account.holder" /></label></div>
    <ReasonList :reasons="reasons" />
    <template #footer><ElButton type="primary" :disabled="busy || !account.iban" data-test="save-account" @click="saveAccount">Set the account</ElButton><ElButton @click="account.open = false">Leave it</ElButton></template>
  </ElDialog>
</template>

<style scoped>
.facts { display: flex; gap: 36px; } .facts p { display: flex; flex-direction: column; } .facts span { color: var(--ink-quiet); font-size: 12px; } .facts b { font-size: 17px; font-weight: 600; } .account { display: flex; flex-direction: column; gap: 10px; margin-top: 12px; }
</style>
