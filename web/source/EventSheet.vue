<script setup lang="ts">
import '#contract/messages/later.ts'
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { AnswerAward } from '#contract/source/comparing.ts'
import { EndEvent, ReadEvent, RemindSuppliers, SendEvent } from '#contract/source/events.ts'
import { api } from '#web/api.ts'
import SheetFrame from '#web/frame/SheetFrame.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { label, stamp } from '#web/shared/words.ts'
import EventAsked from '#web/source/EventAsked.vue'
import EventAward from '#web/source/EventAward.vue'
import EventCorrespondence from '#web/source/EventCorrespondence.vue'
import EventEditor from '#web/source/EventEditor.vue'
import EventFacts from '#web/source/EventFacts.vue'
import EventLog from '#web/source/EventLog.vue'
import EventSuppliers from '#web/source/EventSuppliers.vue'
import MoveEndDialog from '#web/source/MoveEndDialog.vue'
import KnownPricesDialog from '#web/source/KnownPricesDialog.vue'
import PlaceAwardDialog from '#web/source/PlaceAwardDialog.vue'

/** A quote request or a reverse auction: what is asked, who is asked and how far they are, the correspondence, the award. */
const route = useRoute()
const router = useRouter()
const id = computed(() => String(route.params.id))
const typing = ref(false)
const { sheet, failure, stale, reload } = useSheet(ReadEvent, id, () => typing.value)
const { busy, reasons, run, clear } = useAction()
const asking = ref('')
const WHAT: Readonly<Record<string, string>> = {
  send: 'Everybody who is asked gets a mail with a link, at once. What is asked stays as it is from then on.',
  remind: 'Those who have neither answered nor declined get a mail.',
  cancel: 'Everybody who was asked is told. The lines wait to be bought again.',
  takeUp: 'It becomes a draft again.',
  refuseAward: 'Whoever proposed the award reads your reason and proposes another one.',
  approveAward: 'The award stands; orders can follow.',
  takeBackAward: 'The award is taken back; answers stay as they are.',
}
/** What is asked for before it is sent: a reason only where something has to be looked at. */
const wantsReason = computed(() => sheet.value?.checks.some(one => one.level === 'check') ?? false)
const optional = computed(
  () =>
    ['approveAward', 'takeUp', 'remind', 'takeBackAward'].includes(asking.value) ||
    (asking.value === 'send' && !wantsReason.value),
)
/** The way to the answers, where none of the acts already leads there. */
const toAnswers = computed(
  () =>
    !!sheet.value && sheet.value.state !== 'draft' && !sheet.value.actions.some(one => one.action === 'compareAnswers'),
)

function act(name: string): void {
  clear()
  if (name === 'compareAnswers') void router.push(`/source/events/${id.value}/compare`)
  else if (name === 'openDay') void router.push(`/source/events/${id.value}/day`)
  else asking.value = name
}
async function go(reason: string): Promise<void> {
  const params = { id: id.value }
  const { version } = sheet.value!
  const acts: Readonly<Record<string, () => Promise<unknown>>> = {
    send: () => api(SendEvent, { params, body: { version, reason } }),
    remind: () => api(RemindSuppliers, { params, body: { version, invitedIds: [], note: reason } }),
    cancel: () => api(EndEvent, { params, body: { version, how: 'cancel', reason } }),
    takeUp: () => api(EndEvent, { params, body: { version, how: 'takeUp', reason } }),
    approveAward: () => api(AnswerAward, { params, body: { version, answer: 'approve', reason } }),
    refuseAward: () => api(AnswerAward, { params, body: { version, answer: 'reject', reason } }),
    takeBackAward: () => api(AnswerAward, { params, body: { version, answer: 'takeBack', reason } }),
  }
  if ((await run(acts[asking.value]!)) === undefined) return
  asking.value = ''
  await reload()
}
async function done(): Promise<void> {
  asking.value = ''
  typing.value = false
  await reload()
}
/** What was known lies beside each other at once. */
async function compared(): Promise<void> {
  await done()
  await router.push(`/source/events/${id.value}/compare`)
}
const plain = computed(() => !['', 'extend', 'beginAgain', 'placeAward', 'compareKnown'].includes(asking.value))
</script>

<template>
  <SheetFailure v-if="failure" :failure="failure" @again="reload" />
  <SheetFrame v-else-if="sheet" :sheet="sheet" :busy="busy" :stale="stale" @act="act" @changed="done">
    <template #kind
      ><b>{{ sheet.kindName }} {{ sheet.number }}</b
      ><template v-if="sheet.body.outsideNumber">, outside {{ sheet.body.outsideNumber }}</template
      >, {{ sheet.owner
      }}<template v-if="sheet.requests.length"
        >, from
        <template v-for="(one, index) in sheet.requests" :key="one.id"
          >{{ index ? ', ' : '' }}<RouterLink :to="one.path">{{ one.number }}</RouterLink></template
        ></template
      ><template v-if="sheet.copiedFrom"
        >, copied from <RouterLink :to="sheet.copiedFrom.path">{{ sheet.copiedFrom.number }}</RouterLink></template
      ><span v-if="sheet.sentAt">, sent {{ stamp(sheet.sentAt) }}</span></template
    >
    <template #acts
      ><RouterLink v-if="toAnswers" :to="`/source/events/${id}/compare`" data-test="to-compare"
        ><ElButton>Answers</ElButton></RouterLink
      ></template
    >
    <template #notice
      ><ReasonList v-if="!asking" :reasons="reasons" /><ReasonList
        v-if="sheet.state === 'draft' && sheet.checks.length"
        :reasons="sheet.checks"
    /></template>
    <EventAward v-if="sheet.award || sheet.orders.length" :sheet="sheet" />
    <EventEditor v-if="sheet.state === 'draft'" :key="id" :sheet="sheet" @typing="typing = $event" @kept="done" />
    <EventAsked v-else :sheet="sheet" @changed="done" />
    <EventSuppliers :sheet="sheet" @changed="done" />
    <EventCorrespondence v-if="sheet.sentAt" :sheet="sheet" @changed="done" />
    <EventLog v-if="sheet.sentAt" :event-id="id" :version="sheet.version" />
    <template #margin><EventFacts :sheet="sheet" /></template>
  </SheetFrame>
  <MoveEndDialog
    v-if="sheet && (asking === 'extend' || asking === 'beginAgain')"
    :sheet="sheet"
    :how="asking"
    @close="asking = ''"
    @done="done"
  />
  <PlaceAwardDialog v-if="sheet && asking === 'placeAward'" :sheet="sheet" @close="asking = ''" @done="done" />
  <KnownPricesDialog v-if="sheet && asking === 'compareKnown'" :sheet="sheet" @close="asking = ''" @done="compared" />
  <ActDialog
    :open="plain"
    :title="label('action', asking)"
    :what="WHAT[asking] ?? ''"
    :button="label('action', asking)"
    :busy="busy"
    :reasons="reasons"
    :optional="optional"
    @close="asking = ''"
    @go="go"
  />
</template>
