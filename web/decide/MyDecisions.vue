<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { AskBeforeDeciding, DECISION_PARTS, type DecisionItem, ReadMyDecisions } from '#contract/decide/endpoints.ts'
import type { TogetherAct } from '#contract/documents/together.ts'
import { api } from '#web/api.ts'
import type { Wanted } from '#web/decide/DecideDialog.vue'
import DecisionRow from '#web/decide/DecisionRow.vue'
import PendingDecisions from '#web/decide/PendingDecisions.vue'
import { useDecisions } from '#web/decide/pending.ts'
import { OWN_DESK } from '#web/news/news.ts'
import { useSession } from '#web/people/session.ts'
import { sayInPassing } from '#web/shared/message.ts'
import { toggled } from '#web/shared/toggled.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { useShortcuts } from '#web/shared/useShortcuts.ts'

/** What waits for one person’s decision, what costs most to leave first; decided here, one by one or several at once. */
const DecideDialog = defineAsyncComponent(() => import('#web/decide/DecideDialog.vue'))
const PassQuestionDialog = defineAsyncComponent(() => import('#web/decide/PassQuestionDialog.vue'))
const TogetherDialog = defineAsyncComponent(() => import('#web/lists/TogetherDialog.vue'))
type Part = (typeof DECISION_PARTS)[number]
const router = useRouter()
const session = useSession()
const part = ref<Part>('mine')
const from = ref(0)
const { data, failure, reload } = useRead(ReadMyDecisions, () => ({ query: { part: part.value, from: from.value } }), {
  topics: [OWN_DESK],
  keep: true,
})
const { busy, reasons, run, clear } = useAction()
const { waiting, refused, decide, forget } = useDecisions(() => void reload())
const at = ref('')
const chosen = ref(new Set<string>())
const opened = ref('')
const wanted = ref<{ item: DecisionItem; wanted: Wanted }>()
const together = ref<TogetherAct>()
const passing = ref<DecisionItem>()

const items = computed(() => data.value?.items ?? [])
const pendingIds = computed(() => new Set(waiting.value.map(one => one.item.documentId)))
const can = (item: DecisionItem): boolean =>
  item.version !== null && item.waitsFor === '' && !pendingIds.value.has(item.documentId)
const choosing = computed(
  () => (part.value === 'mine' || part.value === 'standIn') && items.value.filter(can).length > 1,
)
const parts = computed(() =>
  DECISION_PARTS.filter(one => one !== 'stalled' || session.may('requisition.passOn')).map(key => ({
    key,
    words: WORDS[key],
    count: key === 'decided' ? undefined : data.value?.counts[key],
  })),
)
const WORDS: Readonly<Record<Part, string>> = {
  mine: 'Yours',
  standIn: 'In another’s place',
  coming: 'Coming to you',
  decided: 'Decided',
  stalled: 'Standing still',
}
const EMPTY: Readonly<Record<Part, string>> = {
  mine: 'Nothing waits for your decision.',
  standIn: 'Nothing waits for you in another’s place.',
  coming: 'Nothing is on its way to you.',
  decided: 'You have decided nothing yet.',
  stalled: 'Nothing stands still: everything waits for somebody who can decide it.',
}
const title = computed(() => {
  const mine = data.value?.counts.mine ?? 0
  return mine === 0
    ? 'Nothing waits for your decision'
    : mine === 1
      ? 'One decision waits for you'
      : `${mine} decisions wait for you`
})
watch(part, () => {
  from.value = 0
  chosen.value = new Set()
  opened.value = ''
})

async function want(item: DecisionItem, what: Wanted): Promise<void> {
  clear()
  if (what !== 'approve') return void (wanted.value = { item, wanted: what })
  const outcome = await decide(item, 'approve', '')
  if (outcome === 'sent') sayInPassing(`${item.number} is approved.`)
  else if (outcome === 'offline') sayInPassing(`${item.number}: kept here, and sent when there is a network.`)
}
async function go(words: string): Promise<void> {
  const { item, wanted: what } = wanted.value!
  if (what === 'ask') {
    const body = { version: item.version!, question: words }
    if (!(await run(() => api(AskBeforeDeciding, { params: { id: item.documentId }, body })))) return
    sayInPassing(`Your question about ${item.number} is on its way.`)
    await reload()
  } else await decide(item, what, words)
  wanted.value = undefined
}
function choose(id: string): void {
  chosen.value = toggled(chosen.value, id)
}
const chosenItems = computed(() => items.value.filter(item => chosen.value.has(item.id)))
const seen = computed(() => Object.fromEntries(chosenItems.value.map(item => [item.documentId, item.version!])))
async function passed(): Promise<void> {
  passing.value = undefined
  await reload()
}
async function doneTogether(): Promise<void> {
  chosen.value = new Set()
  await reload()
}
const here = (): DecisionItem | undefined => items.value.find(item => item.id === at.value)
function move(by: number): void {
  const now = items.value.findIndex(item => item.id === at.value)
  const next = items.value[Math.max(0, Math.min(items.value.length - 1, now + by))]
  if (!next) return
  at.value = next.id
  document.getElementById(`decision-${next.id}`)?.scrollIntoView({ block: 'nearest' })
}
const step = (by: number) => (event: KeyboardEvent) => {
  event.preventDefault()
  move(by)
}
const onHere =
  (act: (item: DecisionItem) => void, only = can) =>
  (event: KeyboardEvent) => {
    const item = here()
    if (!item || !only(item)) return
    event.preventDefault()
    act(item)
  }
useShortcuts({
  j: step(1),
  k: step(-1),
  ArrowDown: step(1),
  ArrowUp: step(-1),
  Enter: onHere(
    item => void router.push(item.path),
    () => true,
  ),
  l: onHere(
    item => (opened.value = opened.value === item.id ? '' : item.id),
    () => true,
  ),
  ' ': onHere(item => choose(item.id)),
  'ctrl+a': event => {
    event.preventDefault()
    chosen.value = new Set(items.value.filter(can).map(item => item.id))
  },
  a: onHere(item => (chosen.value.size > 1 ? void (together.value = 'approve') : void want(item, 'approve'))),
  b: onHere(item => void want(item, 'return')),
  r: onHere(item => void want(item, 'reject')),
  q: onHere(item => void want(item, 'ask')),
})
</script>

<template>
  <main class="my-decisions">
    <SheetFailure v-if="failure && !data" :failure="failure" @again="reload" />
    <div v-else class="column">
      <header>
        <h1>{{ title }}</h1>
        <nav class="parts bar" aria-label="Which decisions">
          <ElButton
            v-for="one in parts"
            :key="one.key"
            link
            :class="{ now: part === one.key }"
            :aria-current="part === one.key"
            :data-test="`part-${one.key}`"
            @click="part = one.key"
            >{{ one.count ? `${one.words}: ${one.count}` : one.words }}</ElButton><RouterLink
            class="away"
            :to="{ path: '/decide', query: { view: 'waiting' } }"
            >all requests</RouterLink
          ><RouterLink v-if="session.may('requisition.readAll')" to="/decide/evidence" data-test="evidence"
            >who decided what</RouterLink
          ><RouterLink to="/decide/away" data-test="away-times">away times</RouterLink>
        </nav>
      </header>
      <PendingDecisions :waiting="waiting" :refused="refused" @forget="forget" />
      <p v-if="chosen.size" class="bar chosen" role="status">
        <b>{{ chosen.size }} chosen</b
        ><ElButton type="primary" size="small" data-test="approve-chosen" @click="together = 'approve'"
          >Approve them</ElButton
        ><ElButton size="small" @click="together = 'return'">Send them back</ElButton
        ><ElButton link @click="chosen = new Set()">let go of them</ElButton>
      </p>
      <p v-if="data && items.length === 0" class="empty">{{ EMPTY[part] }}</p>
      <ol v-else class="rows">
        <DecisionRow
          v-for="item in items"
          :key="item.id"
          :item="item"
          :at="item.id === at"
          :chosen="chosen.has(item.id)"
          :choosing="choosing"
          :open="opened === item.id"
          :pending="pendingIds.has(item.documentId)"
          @choose="choose(item.id)"
          @open="opened = opened === item.id ? '' : item.id"
          @want="want(item, $event)"
          @pass="passing = item"
        />
      </ol>
      <p v-if="data && data.total > items.length" class="bar">
        <ElButton v-if="from > 0" link type="primary" @click="from = Math.max(0, from - 60)">← those before</ElButton
        ><span class="quiet">{{ from + 1 }} to {{ from + items.length }} of {{ data.total }}</span
        ><ElButton
          v-if="from + items.length < data.total"
          link
          type="primary"
          data-test="more-decisions"
          @click="from += 60"
          >those after →</ElButton
        >
      </p>
      <p v-if="items.length" class="keys quiet not-touch">
        <kbd>J K</kbd> next, before · <kbd>A</kbd> approve · <kbd>B</kbd> send back · <kbd>R</kbd> reject ·
        <kbd>Q</kbd> ask · <kbd>L</kbd> lines · <kbd>Space</kbd> choose · <kbd>Enter</kbd> open
      </p>
    </div>
    <DecideDialog
      v-if="wanted"
      :wanted="wanted.wanted"
      :about="wanted.item.title"
      :busy="busy"
      :reasons="reasons"
      @go="go"
      @close="wanted = undefined"
    />
    <PassQuestionDialog v-if="passing" :item="passing" @done="passed" @close="passing = undefined" />
    <TogetherDialog
      v-if="together"
      kind="requisition"
      :act="together"
      :ids="chosenItems.map(item => item.documentId)"
      :seen="seen"
      @done="doneTogether"
      @close="together = undefined"
    />
  </main>
</template>

<style scoped>
.my-decisions {
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  padding: 22px 24px 60px;
}
.column {
  max-width: 1080px;
  margin: 0 auto;
}
.parts {
  margin-top: 8px;
  padding-bottom: 6px;
  border-bottom: 1px solid var(--ink);
  flex-wrap: wrap;
}
.parts .now {
  font-weight: 700;
  color: var(--ink);
}
.away {
  margin-left: auto;
}
.chosen {
  position: sticky;
  top: -22px;
  background: var(--sheet);
  padding: 8px 0;
  z-index: 2;
}
.rows {
  list-style: none;
  padding: 0;
  margin: 10px 0 0;
}
.keys {
  margin-top: 18px;
  font-size: 12px;
}
@media (max-width: 700px) {
  .my-decisions {
    padding: 14px 12px 40px;
    background: var(--page);
  }
  .parts {
    border: 0;
  }
}
</style>
