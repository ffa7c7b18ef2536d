<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import { useRoute } from 'vue-router'
import {
  AcceptAnswers,
  AskBack,
  DecideOnboarding,
  EndOnboarding,
  Invite,
  OnboardingFile,
  ReadOnboarding,
} from '#contract/source/onboarding.ts'
import { ONBOARDING_GROUPS } from '#core/source/states.ts'
import { isIn } from '#core/states.ts'
import { api, pathOf } from '#web/api.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { day, label, since } from '#web/shared/words.ts'
import CandidateList from '#web/source/CandidateList.vue'

/** From a proposal to the first order: who is here already, the invitation, the answers beside the record, questions back, decisions. */
const route = useRoute()
const id = computed(() => String(route.params.id))
const asks = reactive<Record<string, string>>({})
const asking = ref('')
const mode = ref<'read' | 'ask'>('read')
const { sheet, failure, stale, reload } = useSheet(ReadOnboarding, id, () => mode.value === 'ask')
const { busy, reasons, run, clear } = useAction()
const invitation = reactive({ open: false, name: '', email: '', questionnaireId: '', message: '' })
const mine = computed(() => sheet.value?.decisions.find(one => one.mine))
const WHAT: Readonly<Record<string, string>> = {
  refuse: 'The supplier is not taken on; whoever proposed it can read why.',
  withdraw: 'The onboarding ends here; it can be taken up again.',
  takeUp: 'The onboarding begins again as proposed; what was answered is kept.',
  decline: 'The supplier is not taken on. Whoever proposed it and the buyer read your reason.',
}

function act(name: string): void {
  clear()
  if (name === 'invite' || name === 'inviteAgain')
    Object.assign(invitation, {
      open: true,
      name: sheet.value!.invited.name,
      email: sheet.value!.invited.email,
      questionnaireId:
        sheet.value!.questionnaires.find(one => one.fits)?.id ?? sheet.value!.questionnaires[0]?.id ?? '',
      message: '',
    })
  else if (name === 'acceptAnswers') void takeIn()
  else if (name === 'askBack') mode.value = 'ask'
  else if (name === 'decide') void decide(true)
  else asking.value = name
}
async function takeIn(): Promise<void> {
  if (await run(() => api(AcceptAnswers, { params: { id: id.value }, body: { version: sheet.value!.version } })))
    await reload()
}
async function invite(): Promise<void> {
  const { open: _open, ...body } = invitation
  if (await run(() => api(Invite, { params: { id: id.value }, body: { ...body, version: sheet.value!.version } }))) {
    invitation.open = false
    await reload()
  }
}
const toAsk = computed(() =>
  Object.entries(asks).filter(([, question]) => question !== undefined && question.trim().length >= 3),
)
async function askBack(): Promise<void> {
  if (
    !(await run(() =>
      api(AskBack, {
        params: { id: id.value },
        body: { version: sheet.value!.version, asks: toAsk.value.map(([key, question]) => ({ key, question })) },
      }),
    ))
  )
    return
  for (const key of Object.keys(asks)) delete asks[key]
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
const toggleAsk = (key: string, on: boolean): void => {
  if (on) asks[key] = asks[key] ?? ''
  else delete asks[key]
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
    <template #notice><ReasonList v-if="!asking && !invitation.open" :reasons="reasons" /></template>
    <ol class="way" aria-label="The way of an onboarding">
      <li
        v-for="(step, index) in ['proposed', 'invited', 'answering', 'submitted', 'deciding', 'accepted']"
        :key="step"
        :class="{
          now: step === (sheet.state === 'askedBack' ? 'answering' : sheet.state),
          done:
            index <
            ['proposed', 'invited', 'answering', 'submitted', 'deciding', 'accepted'].indexOf(
              sheet.state === 'askedBack' ? 'answering' : sheet.state,
            ),
        }"
      >
        {{ label('state', step === 'accepted' ? 'approved' : step) }}
      </li>
    </ol>
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
      <table class="lines">
        <tbody>
          <tr v-for="one in sheet.decisions" :key="one.id">
            <td>{{ one.office === 'finance' ? 'Finance' : `Owner of ${one.category}` }}</td>
            <td>{{ one.who || 'anybody in finance' }}</td>
            <td
              :class="
                one.state === 'approved' ? 'tone-settled' : one.state === 'refused' ? 'tone-stop' : 'tone-attention'
              "
            >
              {{ one.state === 'open' ? 'waits' : label('state', one.state) }}
            </td>
            <td class="quiet">{{ one.reason ? `“${one.reason}”` : '' }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <template v-if="sheet.questionnaire">
      <section v-for="section in sheet.sections" :key="section.title" class="section">
        <h2>{{ section.title }}</h2>
        <table class="lines answers">
          <thead>
            <tr>
              <th v-if="mode === 'ask'" />
              <th>Question</th>
              <th>Answer</th>
              <th>The record says</th>
            </tr>
          </thead>
          <tbody>
            <template v-for="one in section.questions" :key="one.key"
              ><tr v-if="one.asked" :data-test="`answer-${one.key}`">
                <td v-if="mode === 'ask'">
                  <ElCheckbox
                    :model-value="one.key in asks"
                    :aria-label="`Ask about ${one.label}`"
                    :data-test="`ask-${one.key}`"
                    @change="toggleAsk(one.key, $event as boolean)"
                  />
                </td>
                <td>
                  {{ one.label
                  }}<small v-if="one.ask" :class="one.ask.answered ? 'quiet' : 'tone-attention'"
                    >{{ one.ask.by }} asked: “{{ one.ask.question }}”{{
                      one.ask.answered ? '' : ', not answered yet'
                    }}</small
                  >
                  <ElInput
                    v-if="one.key in asks"
                    v-model="asks[one.key]"
                    placeholder="What do you want to know?"
                    size="small"
                    :data-test="`question-${one.key}`"
                  />
                </td>
                <td>
                  <span :class="{ 'tone-attention': !one.answer && one.required }"
                    ><a v-if="one.fileId" :href="pathOf(OnboardingFile, { id, fileId: one.fileId })" download>{{
                      one.answer
                    }}</a
                    ><template v-else>{{ one.answer || (one.required ? 'not answered' : '–') }}</template></span
                  ><small v-if="one.before !== null" class="quiet">before: {{ one.before || 'nothing' }}</small>
                </td>
                <td class="quiet">
                  <template v-if="one.record !== null"
                    ><span v-if="one.record === one.answer">{{ one.answer ? 'the same' : '' }}</span
                    ><span v-else :class="{ 'tone-attention': one.record !== '' && one.answer !== '' }">{{
                      one.record || 'nothing'
                    }}</span></template
                  >
                </td>
              </tr></template
            >
          </tbody>
        </table>
      </section>
      <p v-if="mode === 'ask'" class="bar foot">
        <ElButton type="primary" :disabled="busy || !toAsk.length" data-test="send-asks" @click="askBack"
          >Ask {{ toAsk.length || '' }} {{ toAsk.length === 1 ? 'question' : 'questions' }}</ElButton
        ><ElButton @click="mode = 'read'">Leave it</ElButton>
      </p>
    </template>
    <template #margin
      ><section>
        <h3>Invitation</h3>
        <p v-if="!sheet.invited.until" class="quiet">Not sent yet.</p>
        <template v-else
          ><p class="kv">
            <span class="quiet">To</span
            ><span class="break">{{ sheet.invited.name }}<br />{{ sheet.invited.email }}</span>
          </p>
          <p class="kv">
            <span class="quiet">Link</span
            ><span>{{
              sheet.invited.usedAt ? `used ${since(sheet.invited.usedAt)}` : `works until ${day(sheet.invited.until)}`
            }}</span>
          </p></template
        >
        <p v-if="sheet.questionnaire" class="kv">
          <span class="quiet">Questions</span
          ><span>{{ sheet.questionnaire.name }}, version {{ sheet.questionnaire.number }}</span>
        </p>
        <p v-if="sheet.toAnswer" class="kv">
          <span class="quiet">Answered</span><span>{{ sheet.answered }} of {{ sheet.toAnswer }}</span>
        </p>
      </section></template
    >
  </SheetFrame>
  <ElDialog v-model="invitation.open" title="Invite the supplier" width="520px">
    <p>They get a link that works once and for 14 days. Inviting again makes an earlier link worthless.</p>
    <div class="form-grid grid">
      <label>Name<ElInput v-model="invitation.name" data-test="invite-name" /></label
      ><label data-place="email">Mail address<ElInput v-model="invitation.email" data-test="invite-mail" /></label
      ><label
        >Questionnaire<ElSelect v-model="invitation.questionnaireId"
          ><ElOption
            v-for="one in sheet?.questionnaires"
            :key="one.id"
            :value="one.id"
            :label="`${one.name}, version ${one.number}${one.fits ? '' : ' (not meant for it)'}`" /></ElSelect
      ></label>
    </div>
    <label class="field">A word of your own<ElInput v-model="invitation.message" type="textarea" :rows="3" /></label>
    <ReasonList :reasons="reasons" />
    <template #footer
      ><ElButton
        type="primary"
        :disabled="busy || !invitation.name || !invitation.email || !invitation.questionnaireId"
        data-test="send-invitation"
        @click="invite"
        >Send the invitation</ElButton
      ><ElButton @click="invitation.open = false">Leave it</ElButton></template
    >
  </ElDialog>
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

<style scoped>
.way {
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 0;
  margin: 18px 0 0;
  padding: 0;
  font-size: 12.3px;
  color: var(--ink-quiet);
}
.way li {
  padding: 0 9px 0 0;
}
.way li:not(:last-child)::after {
  content: '—';
  margin-left: 9px;
  color: var(--rule);
}
.way .done {
  color: var(--kelp);
}
.way .done::before {
  content: '✓ ';
}
.way .now {
  color: var(--ink);
  font-weight: 600;
  text-decoration: underline;
  text-decoration-color: var(--tide);
  text-decoration-thickness: 2px;
  text-underline-offset: 5px;
}
.way .now::after {
  font-weight: 400;
}
.answers td:nth-last-child(-n + 2) {
  width: 30%;
}
.foot {
  margin-top: 14px;
}
.grid {
  margin: 12px 0;
}
.break {
  overflow-wrap: anywhere;
  text-align: right;
}
small {
  display: block;
}
</style>
