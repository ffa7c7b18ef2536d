<script setup lang="ts">
import { ElButton, ElInput, ElPopover } from 'element-plus'
import { computed, ref } from 'vue'
import type { ActionState, SheetFrame } from '#contract/fields.ts'
import type { DocumentKind } from '#core/documents/kinds.ts'
import { Attach, ReadAttachment, WriteNote } from '#contract/files/endpoints.ts'
import { sumTexts } from '#core/money/text.ts'
import { api, pathOf, upload } from '#web/api.ts'
import BudgetBar from '#web/charts/BudgetBar.vue'
import ThreadStrip from '#web/charts/ThreadStrip.vue'
import FileField from '#web/shared/FileField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, label, since, stamp, words } from '#web/shared/words.ts'

/** The head, thread and Margin that every Sheet has; what is the document's own comes through the slots. */
const props = defineProps<{ sheet: SheetFrame; busy: boolean; stale?: boolean; noMargin?: boolean }>()
const emit = defineEmits<{ act: [action: string]; changed: [] }>()
const { busy: writing, reasons, run } = useAction()
const note = ref('')
const allHistory = ref(false)
const shown = ref(localStorage.getItem('margin') !== 'hidden')
const KEYS: Readonly<Record<string, string>> = { primary: 'Ctrl ↵' }
const QUIET = new Set([
  'close',
  'cancel',
  'withdraw',
  'copy',
  'void',
  'bar',
  'pause',
  'seal',
  'bankAccount',
  'reject',
  'passOn',
  'merge',
  'addCertificate',
  'refuse',
  'inviteAgain',
  'remind',
  'change',
])

const possible = computed(() => props.sheet.actions.filter(one => one.possible))
const forward = computed(() => possible.value.filter(one => one.primary || !QUIET.has(one.action)))
const aside = computed(() => possible.value.filter(one => !one.primary && QUIET.has(one.action)))
/** What is nobody's but another's to do is left out; what could become possible is named with its reason. */
const notNow = computed(() =>
  props.sheet.actions.filter(one => !one.possible && one.reasons.some(reason => reason.code !== 'right.notYours')),
)
const type = (one: ActionState): 'primary' | '' => (one.primary ? 'primary' : '')

function toggleMargin(): void {
  shown.value = !shown.value
  localStorage.setItem('margin', shown.value ? 'shown' : 'hidden')
}
async function writeNote(): Promise<void> {
  const done = await run(() =>
    api(WriteNote, {
      body: { documentKind: props.sheet.kind as DocumentKind, documentId: props.sheet.id, text: note.value },
    }),
  )
  if (done) {
    note.value = ''
    emit('changed')
  }
}
async function attach(files: readonly File[]): Promise<void> {
  await run(async () => {
    for (const file of files)
      await api(Attach, {
        body: {
          documentKind: props.sheet.kind as DocumentKind,
          documentId: props.sheet.id,
          fileId: (await upload(file)).id,
        },
      })
  })
  emit('changed')
}
const size = (bytes: number): string =>
  bytes > 1_000_000 ? `${(bytes / 1_048_576).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1024))} kB`
const stepMark: Readonly<Record<string, string>> = {
  approved: '✓',
  rejected: '✕',
  returned: '↩',
  open: '…',
  later: '·',
  dropped: '–',
}
</script>

<template>
  <article class="sheet" :class="{ single: noMargin || !shown }">
    <div class="main">
      <p class="kind">
        <slot name="kind"
          ><b>{{ label('kind', sheet.kind) }} {{ sheet.number }}</b></slot
        >
      </p>
      <slot name="title"
        ><h1>{{ sheet.title || sheet.number }}</h1></slot
      >
      <p class="state" :class="`tone-${sheet.tone}`" data-test="state">{{ words(sheet.sentence) }}</p>
      <p v-if="stale" class="reasons note">
        Somebody changed this while you were typing. Your text is kept;
        <ElButton link @click="emit('changed')">look at the new state</ElButton>.
      </p>
      <div class="acts bar">
        <slot name="acts" />
        <ElButton
          v-for="one in forward"
          :key="one.action"
          :type="type(one)"
          :disabled="busy"
          :data-primary="one.primary || undefined"
          :data-test="`act-${one.action}`"
          @click="emit('act', one.action)"
          >{{ label('action', one.action) }}<kbd v-if="one.primary" class="hint">{{ KEYS.primary }}</kbd></ElButton
        >
        <ElButton
          link
          v-for="one in aside"
          :key="one.action"
          :disabled="busy"
          :data-test="`act-${one.action}`"
          @click="emit('act', one.action)"
        >
          {{ label('action', one.action) }}
        </ElButton>
        <ElPopover v-if="notNow.length" trigger="click" :width="340">
          <template #reference
            ><ElButton link class="not-now" data-test="not-now">
              Not now: {{ notNow.map(one => label('action', one.action).toLowerCase()).join(', ') }}
            </ElButton></template
          >
          <dl>
            <template v-for="one in notNow" :key="one.action"
              ><dt>{{ label('action', one.action) }}</dt>
              <dd v-for="reason in one.reasons" :key="reason.code">
                {{ words(reason)
                }}<span v-if="reason.clearedBy?.length" class="quiet">
                  ({{ reason.clearedBy.map(who => label('role', who)).join(', ') }})</span
                >
              </dd></template
            >
          </dl>
        </ElPopover>
        <ElButton link v-if="!noMargin" class="margin-toggle" @click="toggleMargin">
          {{ shown ? 'hide margin' : 'show margin' }}
        </ElButton>
      </div>
      <slot name="notice" />
      <ThreadStrip v-if="sheet.thread" :thread="sheet.thread" :current="sheet.number" />
      <slot />
    </div>
    <aside v-if="!noMargin && shown" class="margin" aria-label="Margin">
      <section v-if="sheet.budgets.length">
        <h3>Money</h3>
        <BudgetBar v-for="figures in sheet.budgets" :key="figures.accountId" :figures="figures" />
        <p v-for="figures in sheet.budgets.slice(0, 1)" :key="figures.accountId" class="kv">
          <span>This document</span
          ><span
            >{{ amountText(sumTexts(sheet.budgets.map(one => one.here))) }}
            <span class="unit">{{ figures.currency }}</span></span
          >
        </p>
      </section>
      <slot name="margin" />
      <section v-if="sheet.steps.length">
        <h3>Who decides</h3>
        <p v-for="(step, index) in sheet.steps" :key="step.id ?? index" class="step">
          <span
            :class="{
              'tone-settled': step.state === 'approved',
              'tone-stop': step.state === 'rejected' || step.stalled,
              'tone-attention': step.state === 'open' || step.state === 'returned',
            }"
            >{{ stepMark[step.state] ?? '·' }}</span><span
            >{{ step.approver }}
            <span class="quiet"
              >{{ step.rule }}{{ step.costCentre ? `, ${step.costCentre}` : ''
              }}{{ step.because === 'insteadOfRequester' ? ', instead of the requester' : '' }}</span
            ><span v-if="step.decidedBy" class="quiet"> decided by {{ step.decidedBy }}</span
            ><span v-if="step.stalled" class="tone-stop"> account closed</span
            ><span v-if="step.reason" class="said">“{{ step.reason }}”</span></span
          >
        </p>
      </section>
      <section>
        <h3>Notes and files</h3>
        <p v-for="one in sheet.notes" :key="one.id" class="note">
          <b>{{ one.by.split(' ')[0] }}</b> <span class="quiet">{{ since(one.at) }}</span><br />{{ one.text }}
        </p>
        <p v-for="file in sheet.attachments" :key="file.id" class="note">
          <a :href="pathOf(ReadAttachment, { id: file.id })" download>{{ file.name }}</a>
          <span class="quiet">{{ size(file.size) }}</span>
        </p>
        <ElInput
          v-model="note"
          type="textarea"
          :rows="note ? 3 : 1"
          placeholder="Write a note"
          aria-label="Write a note"
          data-test="note"
        />
        <p class="bar small">
          <ElButton v-if="note.trim()" size="small" :disabled="writing" data-test="write-note" @click="writeNote"
            >Keep note</ElButton
          ><FileField label="Attach a file" multiple mark="attach" :busy="writing" @choose="attach" />
        </p>
        <ReasonList :reasons="reasons" />
      </section>
      <section>
        <h3>History</h3>
        <p
          v-for="one in allHistory ? sheet.history : sheet.history.slice(0, 5)"
          :key="one.sequence"
          class="kv"
          :title="`${one.actor}${one.onBehalfOf ? ` for ${one.onBehalfOf}` : ''}, ${stamp(one.at)}, by ${one.channel}`"
        >
          <span
            >{{ label('history', one.action) }} <span v-if="one.reason" class="said">“{{ one.reason }}”</span></span
          ><span class="quiet nowrap"
            >{{ one.actor.split(' ')[0] }}{{ one.onBehalfOf ? ` for ${one.onBehalfOf.split(' ')[0]}` : '' }},
            {{ since(one.at) }}</span
          >
        </p>
        <ElButton link v-if="!allHistory && sheet.historyCount > 5" @click="allHistory = true">
          {{ sheet.historyCount - 5 }} more entries
        </ElButton>
      </section>
    </aside>
  </article>
</template>

<style scoped>
.sheet {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 270px;
  min-height: 100%;
  background: var(--sheet);
}
.sheet.single {
  grid-template-columns: minmax(0, 1fr);
}
.main {
  padding: 18px 26px 40px 28px;
  min-width: 0;
}
.kind {
  color: var(--ink-quiet);
  font-size: 12px;
  margin-bottom: 3px;
}
.kind :deep(b) {
  color: var(--ink);
  font-weight: 600;
}
.state {
  font-size: 14px;
  max-width: 620px;
  margin-top: 4px;
}
.state.tone-attention,
.state.tone-stop {
  font-weight: 600;
}
.acts {
  margin-top: 12px;
}
.hint {
  margin-left: 8px;
  border: 0;
}
.not-now {
  color: var(--ink-quiet);
  font-size: 12px;
  border-bottom: 1px dotted var(--ink-quiet);
}
dl {
  margin: 0;
}
dt {
  font-weight: 600;
}
dd {
  margin: 0 0 8px;
}
.margin-toggle {
  margin-left: auto;
  font-size: 11.5px;
  color: var(--ink-quiet);
}
.margin {
  border-left: 1px solid var(--rule);
  padding: 18px;
  font-size: 12.3px;
  min-width: 0;
}
.margin :deep(section) {
  padding-bottom: 13px;
  margin-bottom: 13px;
  border-bottom: 1px solid var(--rule-light);
}
.margin section:last-child {
  border: 0;
}
.margin :deep(h3) {
  margin-bottom: 6px;
}
.margin :deep(.kv) {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 1.5px 0;
}
.nowrap {
  white-space: nowrap;
}
.step {
  display: grid;
  grid-template-columns: 18px 1fr;
  padding: 2px 0;
}
.said {
  color: var(--ink-quiet);
  font-style: italic;
  display: block;
}
.note {
  padding: 4px 0;
  overflow-wrap: anywhere;
}
.small {
  margin-top: 6px;
}
@media (max-width: 1000px) {
  .sheet {
    grid-template-columns: minmax(0, 1fr);
  }
  .margin {
    border-left: 0;
    border-top: 1px solid var(--rule);
  }
}
@media (max-width: 700px) {
  .main {
    padding: 14px 16px 30px;
  }
}
</style>
