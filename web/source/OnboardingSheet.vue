<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import type { BodyOf } from '#contract/endpoint.ts'
import {
  AcceptAnswers,
  AskBack,
  DecideOnboarding,
  EndOnboarding,
  Invite,
  ReadOnboarding,
} from '#contract/source/onboarding.ts'
import { ONBOARDING_GROUPS } from '#core/source/states.ts'
import { isIn } from '#core/states.ts'
import { api } from '#web/api.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { label } from '#web/shared/words.ts'
import CandidateList from '#web/source/CandidateList.vue'
import InviteForm from '#web/source/InviteForm.vue'
import OnboardingAnswers from '#web/source/OnboardingAnswers.vue'
import OnboardingInvited from '#web/source/OnboardingInvited.vue'
import OnboardingWay from '#web/source/OnboardingWay.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** From a proposal to the first order: who is here already, the invitation, the answers beside the record, questions back, decisions. */
const route = useRoute()
const id = computed(() => String(route.params.id))
const asking = ref('')
const mode = ref<'read' | 'ask'>('read')
const { sheet, failure, stale, reload } = useSheet(ReadOnboarding, id, () => mode.value === 'ask')
const { busy, reasons, run, clear } = useAction()
const inviting = ref(false)
const mine = computed(() => sheet.value?.decisions.find(one => one.mine))
const WHAT: Readonly<Record<string, string>> = {
  refuse: 'The supplier is not taken on; whoever proposed it can read why.',
  withdraw: 'The onboarding ends here; it can be taken up again.',
  takeUp: 'The onboarding begins again as proposed; what was answered is kept.',
  decline: 'The supplier is not taken on. Whoever proposed it and the buyer read your reason.',
}

function act(name: string): void {
  clear()
  if (name === 'invite' || name === 'inviteAgain') inviting.value = true
  else if (name === 'acceptAnswers') void takeIn()
  else if (name === 'askBack') mode.value = 'ask'
  else if (name === 'decide') void decide(true)
  else asking.value = name
}
async function takeIn(): Promise<void> {
  if (await run(() => api(AcceptAnswers, { params: { id: id.value }, body: { version: sheet.value!.version } })))
    await reload()
}
async function invite(body: Omit<BodyOf<typeof Invite>, 'version'>): Promise<void> {
  if (await run(() => api(Invite, { params: { id: id.value }, body: { ...body, version: sheet.value!.version } }))) {
    inviting.value = false
    await reload()
  }
}
async function askBack(asks: BodyOf<typeof AskBack>['asks']): Promise<void> {
  const body = { version: sheet.value!.version, asks }
  if (!(await run(() => api(AskBack, { params: { id: id.value }, body })))) return
  mode.value = 'read'
  await reload()
}
async function decide(approve: boolean, reason = ''): Promise<void> {
  if (
    await run(() =>
      api(DecideOnboarding, {
        params: { id: id.value, decisionId: mine.value!.id },
        body: { version: sheet.value!.version, approve, reason },
      }),
    )
  ) {
    asking.value = ''
    await reload()
  }
}
async function go(reason: string): Promise<void> {
  if (asking.value === 'decline') return decide(false, reason)
  if (
    await run(() =>
      api(EndOnboarding, {
        params: { id: id.value },
        body: { version: sheet.value!.version, action: asking.value as 'refuse', reason },
      }),
    )
  ) {
    asking.value = ''
    await reload()
  }
}
</script>

<template>
  <SheetFailure v-if="failure" :failure="failure" @again="reload" />
  <SheetFrame v-else-if="sheet" :sheet="sheet" :busy="busy" :stale="stale" @act="act" @changed="reload">
    <template #kind
      ><b>Onboarding {{ sheet.number }}</b> of
      <RouterLink :to="`/source/${sheet.supplierId}`">{{ sheet.supplierNumber }}</RouterLink>,
      {{ label('state', sheet.supplierState)
      }}<template v-if="sheet.categories.length">, {{ sheet.categories.join(', ') }}</template></template
    >
    <template #acts
      ><ElButton
        v-if="mine"
        :disabled="busy"
        data-test="decline"
        @click="
          () => {
            clear()
            asking = 'decline'
          }
        "
        >Refuse</ElButton
      ></template
    >
    <template #notice><ReasonList v-if="!asking && !inviting" :reasons="reasons" /></template>
    <OnboardingWay :state="sheet.state" />
    <section v-if="sheet.need || sheet.requisition" class="section">
      <h2>What for</h2>
      <p>
        {{ sheet.need }} <span class="quiet">{{ sheet.proposedBy }}</span>
        <RouterLink v-if="sheet.requisition" :to="sheet.requisition.path">{{ sheet.requisition.number }}</RouterLink>
      </p>
    </section>
    <section v-if="isIn(ONBOARDING_GROUPS.beforeAnswers, sheet.state)" class="section">
      <h2>Is it here already?</h2>
      <p v-if="!sheet.candidates.length" class="quiet">Nothing like it is here.</p>
      <CandidateList :candidates="sheet.candidates" />
    </section>
    <section v-if="sheet.decisions.length" class="section">
      <h2>Who decides</h2>
      <LineTable
        :rows="sheet.decisions"
        :columns="lineColumns({ office: 'Office', who: 'Who', state: 'State', '~reason': 'Why' })"
        label="Decisions"
        bare
        :key-of="one => one.id"
        ><template #office="{ row: one }">{{
          one.office === 'finance' ? 'Finance' : `Owner of ${one.category}`
        }}</template>
        <template #who="{ row: one }">{{ one.who || 'anybody in finance' }}</template>
        <template #state="{ row: one }"
          ><span
            :class="
              one.state === 'approved' ? 'tone-settled' : one.state === 'refused' ? 'tone-stop' : 'tone-attention'
            "
            >{{ one.state === 'open' ? 'waits' : label('state', one.state) }}</span
          ></template
        >
        <template #reason="{ row: one }">{{ one.reason ? `“${one.reason}”` : '' }}</template></LineTable
      >
    </section>
    <OnboardingAnswers
      v-if="sheet.questionnaire"
      :key="`${id} ${mode}`"
      :sheet="sheet"
      :asking="mode === 'ask'"
      :busy="busy"
      @ask="askBack"
      @leave="mode = 'read'"
    />
    <template #margin><OnboardingInvited :sheet="sheet" /></template>
  </SheetFrame>
  <InviteForm
    v-if="inviting && sheet"
    :sheet="sheet"
    :busy="busy"
    :reasons="reasons"
    @send="invite"
    @close="inviting = false"
  />
  <ActDialog
    :open="asking !== ''"
    :title="label('action', asking === 'decline' ? 'refuse' : asking)"
    :what="WHAT[asking] ?? ''"
    :button="label('action', asking === 'decline' ? 'refuse' : asking)"
    :busy="busy"
    :reasons="reasons"
    @close="asking = ''"
    @go="go"
  />
</template>
