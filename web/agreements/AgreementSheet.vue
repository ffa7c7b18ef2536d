<script setup lang="ts">
import '#contract/messages/later.ts'
import { ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { ActOnAgreement, PreviewAmendment, ReadAgreement } from '#contract/agreements/agreements.ts'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { api } from '#web/api.ts'
import AgreementEditor from '#web/agreements/AgreementEditor.vue'
import AgreementFacts from '#web/agreements/AgreementFacts.vue'
import AgreementLines from '#web/agreements/AgreementLines.vue'
import RevisionDifferences from '#web/agreements/RevisionDifferences.vue'
import UseCurve from '#web/agreements/UseCurve.vue'
import WindDownPlan from '#web/agreements/WindDownPlan.vue'
import WindDownSteps from '#web/agreements/WindDownSteps.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { label, priceText, quantityText } from '#web/shared/words.ts'

/** A framework agreement: what is agreed, how much is called off, what hangs on it, and how it changes or ends. */
type Act = BodyOf<typeof ActOnAgreement>['act']
const route = useRoute()
const id = computed(() => String(route.params.id))
const typing = ref(false)
const { sheet, failure, stale, reload } = useSheet(ReadAgreement, id, () => typing.value)
const { busy, reasons, run, clear } = useAction()
const asking = ref<Act | ''>('')
const openOrders = ref<'keep' | 'drafts' | 'all'>('keep')
const others = ref<ResponseOf<typeof PreviewAmendment>['orders']>([])
const today = new Date().toLocaleDateString('sv-SE')
watch(id, () => {
  typing.value = false
})
const WHAT: Readonly<Record<string, string>> = {
  putForward:
    'Those whom the rules name decide; where they name nobody it is in force at once. The catalogue then offers it.',
  approve: 'It is in force, and the catalogue offers it.',
  refuse: 'Whoever asked reads your reason and writes on.',
  withdraw: 'Nobody decides about it any more; it can be written on.',
  dropAmendment: 'What is written is lost; what holds goes on holding.',
  cancel: 'The draft is given up.',
  windDown:
    'From now on nothing is called off. Orders that are closed are sealed, the agreement is ended with today’s date and sealed. What takes a person waits for them.',
}
const AT_ONCE: readonly string[] = ['amend', 'goOn']
const optional = computed(
  () =>
    ['approve', 'withdraw', 'dropAmendment', 'windDown'].includes(asking.value) ||
    (asking.value === 'putForward' && sheet.value?.revision === 0),
)
const editing = computed(
  () =>
    !!sheet.value &&
    (sheet.value.state === 'draft' || sheet.value.amendment === 'writing') &&
    sheet.value.actions.some(one => one.action === 'write' && one.possible),
)
/** What can be done, without writing: that is already open. */
const shown = computed(
  () => sheet.value && { ...sheet.value, actions: sheet.value.actions.filter(one => one.action !== 'write') },
)

/** What was typed is kept: nothing is in the way of reading it again. */
function kept(): void {
  typing.value = false
  void reload()
}
async function act(name: string): Promise<void> {
  clear()
  if (AT_ONCE.includes(name)) return await go('', name as Act)
  openOrders.value = 'keep'
  others.value = []
  asking.value = name as Act
  if (name === 'putForward' && sheet.value!.revision > 0)
    others.value = (await api(PreviewAmendment, { params: { id: id.value } })).orders
}
async function go(reason: string, name = asking.value as Act): Promise<void> {
  const { version, number } = sheet.value!
  const body = { version, act: name, reason, openOrders: openOrders.value, ...(name === 'windDown' ? { number } : {}) }
  if (!(await run(() => api(ActOnAgreement, { params: { id: id.value }, body })))) return
  asking.value = ''
  typing.value = false
  await reload()
}
</script>

<template>
  <SheetFailure v-if="failure && !sheet" :failure="failure" @again="reload" />
  <SheetFrame v-else-if="sheet && shown" :sheet="shown" :busy="busy" :stale="stale" @act="act" @changed="reload">
    <template #kind
      ><b>Framework agreement {{ sheet.number }}</b
      ><template v-if="sheet.revision">, revision {{ sheet.revision }}</template
      >, <RouterLink :to="`/source/${sheet.supplierId}`">{{ sheet.supplier }}</RouterLink>. Kept by
      {{ sheet.owner }}.</template
    >
    <template #notice
      ><ReasonList v-if="!asking" :reasons="reasons" /><ReasonList v-if="editing" :reasons="sheet.faults"
    /></template>
    <section v-if="sheet.amendment !== 'none' && sheet.differences.length" class="section amendment">
      <h2>What the amendment changes</h2>
      <RevisionDifferences :differences="sheet.differences" />
    </section>
    <AgreementEditor
      v-if="editing"
      :key="sheet.id + sheet.amendment"
      :sheet="sheet"
      @typing="typing = $event"
      @kept="kept"
    />
    <template v-else>
      <WindDownSteps v-if="sheet.windDown.length" :sheet="sheet" />
      <UseCurve v-if="sheet.revision" :sheet="sheet" :today="today" />
      <AgreementLines v-if="sheet.lines.length" :sheet="sheet" />
      <AgreementFacts :sheet="sheet" />
    </template>
  </SheetFrame>
  <ActDialog
    :open="asking !== ''"
    :title="label('action', asking)"
    :what="WHAT[asking] ?? ''"
    :button="label('action', asking)"
    :busy="busy"
    :reasons="reasons"
    :optional="optional"
    :typed="asking === 'windDown' ? sheet?.number : undefined"
    :danger="asking === 'windDown' || asking === 'cancel'"
    @close="asking = ''"
    @go="reason => go(reason)"
    ><template v-if="asking === 'putForward' && others.length">
      <p>
        Open orders have other prices. They
        <ElSelect
          v-model="openOrders"
          class="open-orders"
          aria-label="What becomes of open orders"
          data-test="open-orders"
          ><ElOption value="keep" label="keep their prices" /><ElOption
            value="drafts"
            label="take the new ones if not issued" /><ElOption
            value="all"
            label="take the new ones, issued ones by a revision"
        /></ElSelect>
      </p>
      <ul>
        <li v-for="one in others.slice(0, 8)" :key="one.number + one.line">
          {{ one.number }} ({{ label('state', one.state) }}): {{ quantityText(one.quantity) }} {{ one.line }}
          <del>{{ priceText(one.before) }}</del> → <b>{{ priceText(one.after) }}</b> {{ one.currency }}
        </li>
        <li v-if="others.length > 8">and {{ others.length - 8 }} more</li>
      </ul>
    </template>
    <WindDownPlan v-if="asking === 'windDown'" :id="id" />
  </ActDialog>
</template>

<style scoped>
.amendment {
  border-left: 3px solid var(--brass);
  padding-left: 12px;
}
.open-orders {
  width: 320px;
}
</style>
