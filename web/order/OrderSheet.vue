<script setup lang="ts">
import '#contract/messages/later.ts'
import { ElButton, ElCheckbox, ElInput } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Level, SupplierDefaults } from '#core/source/defaults.ts'
import {
  ActOnOrder,
  AnswerExcess,
  AnswerResponse,
  AskExcess,
  ChangeOrder,
  ChaseOrder,
  IssueOrder,
  ReadOrder,
  type WantedOrderBody,
} from '#contract/order/endpoints.ts'
import { api } from '#web/api.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import AnswerChoice from '#web/order/AnswerChoice.vue'
import DifferenceList from '#web/order/DifferenceList.vue'
import { type OrderForm, orderForm, wantedOf, withWanted } from '#web/order/orderForm.ts'
import OrderConditions from '#web/order/OrderConditions.vue'
import OrderEditor from '#web/order/OrderEditor.vue'
import OrderExcess from '#web/order/OrderExcess.vue'
import OrderLines from '#web/order/OrderLines.vue'
import ChargesAsLines from '#web/order/ChargesAsLines.vue'
import ChangeLook from '#web/order/ChangeLook.vue'
import KeptChange from '#web/order/KeptChange.vue'
import { useChange } from '#web/order/useChange.ts'
import { EXCESS, WHAT } from '#web/order/orderWords.ts'
import RecordAnswerDialog from '#web/order/RecordAnswerDialog.vue'
import OrderRevisions from '#web/order/OrderRevisions.vue'
import TellDialog from '#web/order/TellDialog.vue'
import WaitingAnswer from '#web/order/WaitingAnswer.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import DefaultsFields from '#web/source/DefaultsFields.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { label, since } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'

const route = useRoute()
const router = useRouter()
const id = computed(() => String(route.params.id))
const editing = ref(false)
const { sheet, failure, stale, reload } = useSheet(ReadOrder, id, () => editing.value)
const { busy, reasons, run, clear } = useAction()
const asking = ref('')
/** A dialog of its own that is open. */
const aside = ref<'' | 'recordAnswer' | 'tellSupplier'>('')
const needRemains = ref(false)
/** Lines on which the supplier's answer is taken. */
const taken = ref<string[]>([])
const form = ref<OrderForm>(orderForm())
watch(id, () => {
  editing.value = false
})
/** The levels above the document, from what each effective value says. */
const above = computed(() =>
  (['house', 'supplier', 'location'] as const).map(
    level =>
      [
        level,
        Object.fromEntries(
          (sheet.value?.effective ?? []).flatMap(one =>
            one.from === level
              ? [[one.key, one.value]]
              : one.from === 'document' && level === 'supplier' && one.otherwise
                ? [[one.key, one.otherwise]]
                : [],
          ),
        ) as SupplierDefaults,
      ] as readonly [Level, SupplierDefaults],
  ),
)
const waiting = computed(() => sheet.value?.responses.find(response => response.state === 'waiting'))
const inPart = computed(() => (waiting.value?.differences.length ?? 0) > taken.value.length)

const { look, against, begin } = useChange(sheet, form, editing, busy)
function edit(): void {
  form.value = begin()
  clear()
  editing.value = true
}
async function act(name: string): Promise<void> {
  clear()
  if (name === 'edit' || name === 'revise') return edit()
  if (name === 'recordAnswer' || name === 'tellSupplier') return void (aside.value = name)
  if (name === 'receive') return void router.push(`/receive/${id.value}`)
  if (name === 'issue' && !sheet.value!.supplierReasons.some(reason => reason.level === 'check')) {
    await run(() => api(IssueOrder, { params: { id: id.value }, body: { version: sheet.value!.version } }))
    return reload()
  }
  needRemains.value = false
  taken.value = waiting.value?.differences.map(one => one.lineId) ?? []
  asking.value = name
}
async function go(reason: string): Promise<void> {
  const { version } = sheet.value!
  const name = asking.value
  const answer = EXCESS[name]
  const done = await run(() =>
    name === 'askExcess'
      ? api(AskExcess, { params: { id: id.value }, body: { version, reason, wanted: editing.value ? wanted() : null } })
      : answer
        ? api(AnswerExcess, { params: { id: id.value }, body: { version, answer, reason } })
        : name === 'issue'
          ? api(IssueOrder, { params: { id: id.value }, body: { version, checkReason: reason } })
          : name === 'acceptAnswer' || name === 'refuseAnswer'
            ? api(AnswerResponse, {
                params: { id: id.value, responseId: waiting.value!.id },
                body: {
                  version,
                  reason,
                  answer: name === 'acceptAnswer' ? 'accept' : 'refuse',
                  ...(inPart.value && name === 'acceptAnswer' ? { only: taken.value } : {}),
                },
              })
            : name === 'chase'
              ? api(ChaseOrder, { params: { id: id.value }, body: { version, note: reason } })
              : api(ActOnOrder, {
                  params: { id: id.value },
                  body: { version, action: name as 'cancel', reason, needRemains: needRemains.value },
                }),
  )
  if (done) {
    asking.value = ''
    editing.value = false
    await reload()
  }
}
const wanted = (): WantedOrderBody => wantedOf(form.value)
/** Whether a change was refused because it costs more than was approved: that can be asked for. */
const tooDear = computed(
  () =>
    editing.value && reasons.value.some(reason => ['order.overApproved', 'order.notApproved'].includes(reason.code)),
)
/** Makes the change that was asked for, as it was asked. */
function make(): void {
  const { excess } = sheet.value!
  edit()
  form.value = { ...withWanted(form.value, excess!.wanted!), reason: excess!.reason }
}
async function save(): Promise<void> {
  const { conditions, version, reason, needRemains: remains } = form.value
  const more = sheet.value!.state === 'draft' ? { conditions } : { needRemains: remains }
  const body = { ...wanted(), version, reason, ...more }
  if (!(await run(() => api(ChangeOrder, { params: { id: id.value }, body })))) return
  editing.value = false
  await reload()
}
</script>

<template>
  <SheetFailure v-if="failure && !sheet" :failure="failure" @again="reload" />
  <SheetFrame
    v-else-if="sheet"
    :sheet="editing ? { ...sheet, actions: [] } : sheet"
    :busy="busy"
    :stale="stale"
    @act="act"
    @changed="reload"
  >
    <template #kind
      ><b>Order {{ sheet.number }}</b
      ><template v-if="sheet.issuedAt">, revision {{ sheet.revision }}</template
      >, <RouterLink :to="sheet.supplierPath">{{ sheet.supplier }}</RouterLink>. {{ sheet.terms
      }}<template v-if="sheet.agreement">
        Calls off agreement
        <RouterLink v-if="sheet.agreementPath" :to="sheet.agreementPath">{{ sheet.agreement }}</RouterLink><template
          v-else
          >{{ sheet.agreement }}</template
        >.</template
      ></template
    >
    <template v-if="editing" #title><ElInput v-model="form.title" class="title" aria-label="Title" /></template>
    <template #acts
      ><template v-if="editing"
        ><ElButton type="primary" :disabled="busy" data-primary data-test="save-order" @click="save">{{
          sheet.state === 'draft' ? 'Save the draft' : `Make revision ${sheet.revision + 1}`
        }}</ElButton
        ><ElButton
          @click="
            () => {
              editing = false
              reload()
            }
          "
          >Leave it</ElButton
        ></template
      ></template
    >
    <template #notice
      ><ReasonList v-if="!asking" :reasons="[...sheet.supplierReasons, ...reasons]" />
      <p v-if="tooDear && sheet.state !== 'draft'">
        <ElButton size="small" data-test="ask-excess" @click="asking = 'askExcess'">Ask for approval</ElButton>
      </p>
      <OrderExcess v-if="sheet.excess && !editing" :sheet="sheet" @make="make" />
      <KeptChange v-if="!editing" :sheet="sheet" @go-on="edit" @dropped="reload" />
      <WaitingAnswer v-if="waiting && !editing" :supplier="sheet.supplier" :answer="waiting" />
      <FormField
        label="What changes and why (stands on the revision)"
        v-if="editing && sheet.state !== 'draft'"
        place="reason"
        ><ElInput v-model="form.reason" data-test="change-reason" /></FormField
    ></template>
    <OrderLines v-if="!editing" :sheet="sheet" />
    <ChargesAsLines
      v-if="!editing && sheet.actions.some(one => one.action === 'edit' && !one.reasons.length)"
      :sheet="sheet"
      @done="reload"
    />
    <OrderEditor
      v-else
      v-model="form"
      :draft="sheet.state === 'draft'"
      :currency="sheet.currency"
      :locations="sheet.locations"
    />
    <ReasonList v-if="editing" :reasons="against" />
    <ChangeLook
      v-if="editing && look"
      :look="look"
      :currency="sheet.currency"
      :supplier="sheet.supplier"
      :revision="sheet.revision"
    />
    <section v-if="editing && sheet.state === 'draft'" class="section">
      <h2>Conditions of this order</h2>
      <DefaultsFields
        v-model="form.conditions"
        :above="above"
        level="document"
        place="conditions"
        :keys="[
          'termsDays',
          'termsFrom',
          'incoterm',
          'incotermPlace',
          'orderChannel',
          'prepaidPercent',
          'retainedPercent',
          'retainedDays',
        ]"
      />
    </section>
    <OrderConditions v-else-if="!editing" :sheet="sheet" />
    <OrderRevisions v-if="sheet.revisions.length && !editing" :sheet="sheet" />
    <template #margin
      ><section v-if="sheet.delivery.length">
        <h3>Sent</h3>
        <p v-for="one in sheet.delivery" :key="one.at + one.kind" class="kv" :title="one.lastError ?? ''">
          <span>{{ label('kind', one.kind) }}, {{ since(one.at) }}</span
          ><span :class="{ 'tone-attention': one.state === 'waiting' && one.attempts > 0 }">{{
            one.state === 'sent' ? 'sent' : one.attempts > 0 ? `tried ${one.attempts} times` : label('state', one.state)
          }}</span>
        </p>
      </section></template
    >
  </SheetFrame>
  <RecordAnswerDialog
    v-if="sheet && aside === 'recordAnswer'"
    :sheet="sheet"
    @close="aside = ''"
    @changed="reload"
  /><TellDialog v-if="sheet && aside === 'tellSupplier'" :sheet="sheet" @close="aside = ''" @changed="reload" />
  <ActDialog
    :open="asking !== ''"
    :title="label('action', asking)"
    :what="WHAT[asking] ?? ''"
    :button="label('action', asking)"
    :busy="busy"
    :reasons="reasons"
    :optional="['chase', 'approveExcess', 'withdrawExcess'].includes(asking) || (asking === 'acceptAnswer' && !inPart)"
    :typed="asking === 'seal' ? sheet?.number : undefined"
    :danger="asking === 'cancel' || asking === 'seal'"
    @close="asking = ''"
    @go="go"
    ><ElCheckbox
      v-if="asking === 'cancel'"
      v-model="needRemains"
      label="The need remains: its lines go back to be bought, their budget is reserved again" /><AnswerChoice
      v-if="waiting && asking === 'acceptAnswer'"
      v-model="taken"
      :differences="waiting.differences" /><DifferenceList
      v-else-if="waiting && asking === 'refuseAnswer'"
      :differences="waiting.differences"
  /></ActDialog>
</template>

<style scoped>
.title :deep(.el-input__inner) {
  font: 600 22px var(--serif);
  height: 38px;
}
</style>
