<script setup lang="ts">
import '#web/theme/later.scss'
import { ElButton, ElCheckbox, ElInputNumber } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { DraftGroups, KeepPoolRules, ReadProposals } from '#contract/order/pool.ts'
import { type PoolRules, routeOf } from '#core/order/proposeOrders.ts'
import { api } from '#web/api.ts'
import ProposalCard from '#web/order/ProposalCard.vue'
import { arranged, figuresOf, type Line, proposed, type Proposal, savedOf } from '#web/order/proposals.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { day, words } from '#web/shared/words.ts'

/** Draft orders as the team's rules propose them of what is approved; lines are moved between them before anything is drafted. */
const router = useRouter()
const { data, failure, reload } = useRead(ReadProposals, computed(() => ({})), { keep: true }) // prettier-ignore
const { busy, reasons, run } = useAction()
const rules = ref<PoolRules>({ byPlace: false, byIncoterm: true, windowDays: 30 })
const proposals = ref<Proposal[]>([])
const left = ref(new Set<string>())

watch(
  data,
  now => {
    if (!now) return
    if (proposals.value.length === 0) rules.value = { ...now.rules }
    proposals.value = arranged(proposals.value, now.lines, rules.value)
  },
  { immediate: true },
)
function propose(): void {
  proposals.value = proposed(data.value!.lines, rules.value)
  left.value = new Set()
}
const full = computed(() => proposals.value.filter(one => one.lines.length > 0))
const ofKey = (key: string): Proposal[] => full.value.filter(one => one.key === key)
const others = (own: Proposal): { id: string; label: string }[] =>
  full.value.flatMap((one, at) =>
    one.key === own.key && one !== own
      ? [{ id: one.id, label: `order ${at + 1}, from ${day(one.lines[0]!.needBy)}` }]
      : [],
  )
const chosen = computed(() => full.value.filter(one => !left.value.has(one.id)))

function take(own: Proposal, taken: boolean): void {
  const next = new Set(left.value)
  if (taken) next.delete(own.id)
  else next.add(own.id)
  left.value = next
}
function move(own: Proposal, line: Line, to: string): void {
  const from = proposals.value.find(one => one.id === own.id)!
  from.lines = from.lines.filter(one => one.id !== line.id)
  const target = proposals.value.find(one => one.id === to)
  if (target) target.lines = [...target.lines, line]
  else
    proposals.value.splice(proposals.value.indexOf(from) + 1, 0, { id: `own ${line.id}`, key: own.key, lines: [line] })
}
function together(key: string): void {
  const [first, ...rest] = proposals.value.filter(one => one.key === key)
  first!.lines = [first!, ...rest].flatMap(one => one.lines)
  for (const one of rest) one.lines = []
}
async function keepRules(): Promise<void> {
  if (await run(() => api(KeepPoolRules, { body: rules.value }))) await reload()
}
async function draft(): Promise<void> {
  const groups = chosen.value.map(one => ({ route: routeOf(one.lines[0]!), lineIds: one.lines.map(line => line.id) }))
  const done = await run(() => api(DraftGroups, { body: { groups } }))
  if (!done) return await reload()
  await router.push(done.orders.length === 1 ? `/order/${done.orders[0]!.id}` : '/order?state=draft&view=all')
}
</script>

<template>
  <SheetFailure v-if="failure && !data" :failure="failure" @again="reload" />
  <article v-else-if="data" class="proposals">
    <p class="quiet"><RouterLink to="/order/to-buy">Approved, to be bought</RouterLink></p>
    <h1>Proposed orders</h1>
    <div class="bar rules">
      <ElCheckbox v-model="rules.byPlace" label="an order for each place" data-test="by-place" @change="propose" />
      <ElCheckbox v-model="rules.byIncoterm" label="for each Incoterm" @change="propose" />
      <label class="bar"
        >needed within
        <ElInputNumber
          v-model="rules.windowDays"
          :min="0"
          :max="365"
          size="small"
          controls-position="right"
          aria-label="Days from the first need to the last"
          data-test="window-days"
          @change="propose"
        />
        days</label
      ><ElButton link :disabled="busy" data-test="keep-rules" @click="keepRules">Keep as the team’s rules</ElButton>
      <ElButton
        type="primary"
        class="go"
        :disabled="busy || chosen.length === 0"
        data-test="draft-proposed"
        @click="draft"
        >Draft {{ chosen.length }} {{ chosen.length === 1 ? 'order' : 'orders' }}</ElButton
      >
    </div>
    <ReasonList :reasons="reasons" />
    <p v-if="full.length === 0" class="empty">Nothing waits that can be bought.</p>
    <div class="cards">
      <ProposalCard
        v-for="(one, at) in full"
        :key="one.id"
        v-model:lines="one.lines"
        :proposal="one"
        :number="at + 1"
        :figures="figuresOf(one, data.limits)"
        :saved="savedOf(ofKey(one.key), data.limits)"
        :others="others(one)"
        :taken="!left.has(one.id)"
        @take="take(one, $event)"
        @move="(line, to) => move(one, line, to)"
        @together="together(one.key)"
      />
    </div>
    <section v-if="data.left.length" class="section">
      <h2>Not yet</h2>
      <p v-for="one in data.left" :key="one.id">
        {{ one.requisition }}, {{ one.description }}
        <span v-for="reason in one.reasons" :key="reason.code" class="quiet">{{ words(reason) }}</span>
      </p>
    </section>
  </article>
</template>

<style scoped>
.proposals {
  padding: 16px 28px 24px;
  overflow: auto;
  flex: 1;
}
.rules {
  margin: 10px 0 14px;
  gap: 18px;
}
.go {
  margin-left: auto;
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(420px, 1fr));
  gap: 14px;
  align-items: start;
}
@media (max-width: 700px) {
  .cards {
    grid-template-columns: 1fr;
  }
}
</style>
