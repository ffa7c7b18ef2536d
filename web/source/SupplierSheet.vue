<script setup lang="ts">
import { ElDatePicker } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import {
  ActOnSupplier,
  AnswerRevision,
  ProveBankAccount,
  ReadSupplier,
  ReassignAdministrator,
  WithdrawCertificate,
} from '#contract/source/endpoints.ts'
import { UndoMerge } from '#contract/source/duplicates.ts'
import { api } from '#web/api.ts'
import SheetFrame from '#web/frame/SheetFrame.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { label } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import AccountForm from '#web/source/AccountForm.vue'
import AdministratorForm from '#web/source/AdministratorForm.vue'
import CertificateForm from '#web/source/CertificateForm.vue'
import MergeDialog from '#web/source/MergeDialog.vue'
import SignalTable from '#web/source/SignalTable.vue'
import SupplierCertificates from '#web/source/SupplierCertificates.vue'
import SupplierFigures from '#web/source/SupplierFigures.vue'
import SupplierForm from '#web/source/SupplierForm.vue'
import SupplierMargin from '#web/source/SupplierMargin.vue'
import SupplierPaidTo from '#web/source/SupplierPaidTo.vue'
import SupplierRecord from '#web/source/SupplierRecord.vue'
import SupplierRevisions from '#web/source/SupplierRevisions.vue'
import FormField from '#web/shared/FormField.vue'

/** A supplier: how it stands, what is kept of it, and what can be done with it. */
const route = useRoute()
const router = useRouter()
const id = computed(() => String(route.params.id))
const form = ref<'' | 'edit' | 'merge' | 'bankAccount' | 'addCertificate' | 'administrator'>('')
const { sheet, failure, stale, reload } = useSheet(ReadSupplier, id, () => form.value === 'edit')
const { busy, reasons, run, clear } = useAction()
/** What is being asked: an action, or `undo:`, `refuse:`, `withdraw:`, `reassign:` with an id. */
const asking = ref('')
const until = ref<string>()
const certificate = ref({ kind: '', category: '', replaces: null as string | null })
watch(id, () => {
  form.value = ''
})
const current = computed(() => sheet.value?.bankAccounts.find(one => one.state !== 'closed'))
const WHAT: Readonly<Record<string, string>> = {
  prove:
    'Say how you checked the account: whom you called, on which number known before. From then on it can be paid to.',
  pause: 'No new order can be issued until somebody resumes it, or until the day that you name. Open orders go on.',
  resume: 'New orders can be issued again.',
  bar: 'Barring takes two people: somebody else reads your reason and agrees. From then on nothing can be asked for or ordered here.',
  close: 'The record is kept and no longer offered.',
  reopen: 'The supplier comes back with new orders paused.',
  undo: 'What was moved goes back to the record that was merged. What has come since stays here.',
  refuse: 'The supplier reads why this change is not taken.',
  withdraw: 'The certificate no longer counts; it stays in the history.',
  reassign:
    'The administration of the supplier’s people goes to this person. Say how you made sure that this is right: whom you called, on which number.',
}
const verb = computed(() => asking.value.split(':')[0]!)
const subject = computed(() => asking.value.split(':')[1] ?? '')
const TITLES: Readonly<Record<string, string>> = {
  undo: 'Undo the merge',
  refuse: 'Refuse the change',
  withdraw: 'Take the certificate out',
  reassign: 'Reassign the administration',
}

const FORMS = ['edit', 'merge', 'bankAccount', 'addCertificate'] as const

function act(name: string): void {
  clear()
  until.value = undefined
  certificate.value = { kind: '', category: '', replaces: null }
  const shown = FORMS.find(one => one === name)
  if (shown) form.value = shown
  else asking.value = name
}
function newCertificate(kind: string, category: string, replaces: string | null): void {
  act('addCertificate')
  certificate.value = { kind, category, replaces }
}
async function done(): Promise<void> {
  form.value = ''
  asking.value = ''
  await reload()
}
/** What each question does once it has its reason. */
function sent(reason: string): Promise<unknown> {
  const params = { id: id.value }
  const { version } = sheet.value!
  if (verb.value === 'prove') {
    const body = { version, proof: reason }
    return api(ProveBankAccount, { params: { ...params, accountId: current.value!.id }, body })
  }
  if (verb.value === 'undo') return api(UndoMerge, { params: { id: subject.value }, body: { reason } })
  if (verb.value === 'refuse')
    return api(AnswerRevision, { params: { ...params, revisionId: subject.value }, body: { accept: false, reason } })
  if (verb.value === 'withdraw')
    return api(WithdrawCertificate, { params: { ...params, certificateId: subject.value }, body: { reason } })
  if (verb.value === 'reassign')
    return api(ReassignAdministrator, { params, body: { personId: subject.value, check: reason } })
  const body = { version, action: verb.value as 'pause', reason, until: until.value ?? null }
  return api(ActOnSupplier, { params, body })
}
async function go(reason: string): Promise<void> {
  if (await run(() => sent(reason))) await done()
}
async function accept(revisionId: string): Promise<void> {
  const params = { id: id.value, revisionId }
  if (await run(() => api(AnswerRevision, { params, body: { accept: true, reason: '' } }))) await reload()
}
</script>

<template>
  <SheetFailure v-if="failure" :failure="failure" @again="reload" />
  <SupplierForm
    v-else-if="form === 'edit' && sheet"
    :id="id"
    :supplier="sheet.supplier"
    :version="sheet.version"
    @saved="done"
    @leave="done"
  />
  <SheetFrame v-else-if="sheet" :sheet="sheet" :busy="busy" :stale="stale" @act="act" @changed="reload">
    <template #kind
      ><b>{{ sheet.supplier.kind === 'person' ? 'Person' : 'Supplier' }} {{ sheet.number }}</b
      ><template v-if="sheet.supplier.categories.length">, {{ sheet.supplier.categories.join(', ') }}</template
      ><template v-if="sheet.supplier.tradeNames.length"
        >; trades as {{ sheet.supplier.tradeNames.join(', ') }}</template
      ></template
    >
    <template #notice>
      <p v-if="sheet.mergedInto" class="reasons">
        This record was merged.
        <RouterLink :to="`/source/${sheet.mergedInto.id}`"
          >{{ sheet.mergedInto.name }} {{ sheet.mergedInto.number }}</RouterLink
        >
      </p>
      <p v-if="sheet.secondYes" class="reasons check">
        {{ sheet.secondYes.askedBy }} asks a second person to {{ laterLabel('second yes', sheet.secondYes.kind) }}: “{{
          sheet.secondYes.reason
        }}” <RouterLink :to="`/source/second-yes/${sheet.secondYes.id}`">Answer</RouterLink>
      </p>
      <p v-if="sheet.onboarding && sheet.onboarding.state !== 'accepted'" class="reasons note">
        Onboarding
        <RouterLink :to="`/source/onboardings/${sheet.onboarding.id}`">{{ sheet.onboarding.number }}</RouterLink>:
        {{ label('state', sheet.onboarding.state) }}
      </p>
      <ReasonList v-if="!asking && !form" :reasons="reasons" />
    </template>
    <SupplierFigures :sheet="sheet" />
    <SupplierRevisions :sheet="sheet" :busy="busy" @accept="accept" @refuse="act(`refuse:${$event}`)" />
    <SupplierPaidTo :sheet="sheet" />
    <SupplierCertificates :sheet="sheet" @add="newCertificate" @withdraw="act(`withdraw:${$event}`)" />
    <SignalTable :id="id" :signals="sheet.signals" @changed="reload" />
    <SupplierRecord :sheet="sheet" />
    <template #margin
      ><SupplierMargin
        :sheet="sheet"
        @reassign="act(`reassign:${$event}`)"
        @invite="form = 'administrator'"
        @undo="act(`undo:${$event}`)"
    /></template>
  </SheetFrame>
  <ActDialog
    :open="asking !== ''"
    :title="TITLES[verb] ?? label('action', verb)"
    :what="WHAT[verb] ?? ''"
    :button="TITLES[verb] ?? (verb === 'bar' ? 'Ask for it' : label('action', verb))"
    :busy="busy"
    :reasons="reasons"
    :danger="verb === 'bar'"
    @close="asking = ''"
    @go="go"
  >
    <FormField label="Until, if you know it" v-if="verb === 'pause'" class="until" place="until"
      ><ElDatePicker v-model="until" value-format="YYYY-MM-DD" format="D MMM YYYY"
    /></FormField>
  </ActDialog>
  <template v-if="sheet"
    ><MergeDialog
      v-if="form === 'merge'"
      :kept="{ id, name: sheet.title, number: sheet.number }"
      @close="form = ''"
      @merged="done"
      @asked="router.push(`/source/second-yes/${$event}`)" />
    <AdministratorForm
      v-if="form === 'administrator'"
      :supplier-id="id"
      :contact="sheet.supplier.contacts[0]"
      @close="form = ''"
      @sent="done" />
    <AccountForm
      v-if="form === 'bankAccount'"
      :supplier-id="id"
      :name="sheet.title"
      :version="sheet.version"
      @close="form = ''"
      @kept="done" />
    <CertificateForm
      v-if="form === 'addCertificate'"
      :supplier-id="id"
      :sheet="sheet"
      v-bind="certificate"
      @close="form = ''"
      @kept="done"
  /></template>
</template>

<style scoped>
.until {
  margin-top: 12px;
}
</style>
