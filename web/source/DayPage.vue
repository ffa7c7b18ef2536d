<script setup lang="ts">
import '#contract/messages/later.ts'
import { ElButton } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { ActOnDay, ReadDay, RemoveBid } from '#contract/source/day.ts'
import { ReadEvent } from '#contract/source/events.ts'
import { api } from '#web/api.ts'
import { documentTopic } from '#web/news/news.ts'
import { useSession } from '#web/people/session.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, timeText } from '#web/shared/words.ts'
import BidChart from '#web/source/BidChart.vue'
import DayBehalf from '#web/source/DayBehalf.vue'
import DayMargin from '#web/source/DayMargin.vue'
import DayStanding from '#web/source/DayStanding.vue'
import { leftText } from '#web/source/eventMoment.ts'
import { useServerClock } from '#web/source/serverClock.ts'

/** The Day of a reverse auction: who leads, how long it still goes, what can be done about it. */
type Act = 'start' | 'pause' | 'resume' | 'extend' | 'end'
const route = useRoute()
const session = useSession()
const id = computed(() => String(route.params.id))
const topics = () => [documentTopic(id.value)]
const { data: day, failure, reload } = useRead(ReadDay, () => ({ params: { id: id.value } }), { topics, keep: true })
const { data: sheet, reload: reloadSheet } = useRead(ReadEvent, () => ({ params: { id: id.value } }), {
  topics,
  keep: true,
})
const now = useServerClock(() => day.value?.serverTime)
const { busy, reasons, run, clear } = useAction()
const lotId = ref('')
const acting = ref<Act | ''>('')
const removing = ref('')
const behalf = ref(typeof route.query.behalf === 'string')
const FIVE_MINUTES = 300

/** Whatever runs is looked at first. */
watch(
  day,
  value => {
    if (value && !value.lots.some(lot => lot.id === lotId.value))
      lotId.value = (value.lots.find(lot => lot.phase === 'open') ?? value.lots[0])?.id ?? ''
  },
  { immediate: true },
)
const lot = computed(() => day.value?.lots.find(one => one.id === lotId.value))
const nameOf = (supplierId: string): string =>
  day.value?.suppliers.find(one => one.supplierId === supplierId)?.name ?? ''
const left = computed(() =>
  !lot.value
    ? ''
    : lot.value.phase === 'paused'
      ? leftText(lot.value.left ?? 0)
      : lot.value.endsAt
        ? leftText(Date.parse(lot.value.endsAt) - now.value)
        : '–',
)
// the moment at which it opens or ends is nobody's act: the page asks by itself
watch(now, (at, before) => {
  const edges = day.value?.lots.flatMap(one => [one.endsAt, one.phase === 'planned' ? one.opensAt : null]) ?? []
  if (edges.some(edge => edge !== null && Date.parse(edge) <= at && Date.parse(edge) > before)) void reload()
})
const title = computed(() => {
  if (!lot.value || !day.value) return ''
  const which = day.value.lots.length > 1 ? `lot ${lot.value.position} of ${day.value.lots.length}` : lot.value.title
  return `The Day: ${which} ${laterLabel('lot phase', lot.value.phase)}`
})
const leader = computed(() => lot.value?.standing[0])
const saving = (total: string, against: string): string => {
  if (!against) return ''
  const per = (1 - Number(total) / Number(against)) * 100
  return `${Math.abs(per).toFixed(1)} % ${per >= 0 ? 'under' : 'above'}`
}
const ACTS: readonly Act[] = ['start', 'pause', 'resume', 'extend', 'end']
const possible = (act: Act): boolean => lot.value?.may[act]?.length === 0
async function go(reason: string): Promise<void> {
  const act = acting.value || 'start'
  const body = { act, lotId: lotId.value, bySeconds: act === 'extend' ? FIVE_MINUTES : 0, reason }
  if (!(await run(() => api(ActOnDay, { params: { id: id.value }, body })))) return
  acting.value = ''
  await reload()
}
function press(act: Act): void {
  clear()
  acting.value = act
}
async function remove(reason: string): Promise<void> {
  if (!(await run(() => api(RemoveBid, { params: { id: id.value, bidId: removing.value }, body: { reason } })))) return
  removing.value = ''
  await reload()
}
const WHAT: Readonly<Record<Act, string>> = {
  start: 'The lot opens now and is open as long as its rules say.',
  pause: 'The clock stands for everybody and nobody can bid. Everybody is told.',
  resume: 'The clock goes on with what was left. Everybody is told.',
  extend: 'The end moves five minutes later, for everybody. Everybody is told.',
  end: 'The lot is over now; nothing counts that comes later. Everybody is told.',
}
</script>

<template>
  <SheetFailure v-if="failure" :failure="failure" @again="reload" />
  <main v-else-if="day && lot" class="day">
    <div class="main">
      <p class="quiet">
        <RouterLink :to="`/source/events/${id}`"
          ><b>{{ sheet?.kindName }} {{ sheet?.number }}</b></RouterLink
        >, {{ sheet?.title }}
      </p>
      <div class="head">
        <div>
          <h1 data-test="day-title">{{ title }}</h1>
          <p class="lead" data-test="day-lead">
            <template v-if="day.hidden">Bids are sealed: nobody of ours sees them before the end.</template
            ><template v-else-if="leader"
              >{{ nameOf(leader.supplierId) }} leads with <b>{{ day.currency }} {{ amountText(leader.total) }}</b
              ><template v-if="lot.reference">, {{ saving(leader.total, lot.reference) }} the reference</template
              ><template v-if="lot.first">, {{ saving(leader.total, lot.first) }} the first bid</template>.</template
            ><template v-else>Nobody has bid yet.</template> {{ day.suppliers.filter(one => one.present).length }} of
            {{ day.suppliers.length }} bidders are here<template v-if="lot.extensions"
              >; the end moved {{ lot.extensions === 1 ? 'once' : `${lot.extensions} times` }}</template
            >.
          </p>
        </div>
        <p class="clock">
          <span class="quiet">{{
            lot.phase === 'open' && lot.endsAt
              ? `ends ${timeText(lot.endsAt)} by the server’s clock`
              : lot.phase === 'paused'
                ? 'the clock stands at'
                : lot.phase === 'planned' && lot.opensAt
                  ? `opens ${timeText(lot.opensAt)}`
                  : laterLabel('lot phase', lot.phase)
          }}</span><b v-if="lot.phase === 'open' || lot.phase === 'paused'" role="timer" data-test="clock">{{ left }}</b
          ><b v-else-if="lot.phase === 'planned' && lot.opensAt" data-test="clock">{{
            leftText(Date.parse(lot.opensAt) - now)
          }}</b>
        </p>
      </div>
      <p v-if="session.may('event.write')" class="bar acts">
        <template v-for="act in ACTS" :key="act"
          ><ElButton v-if="possible(act)" :data-test="`day-${act}`" @click="press(act)">{{
            laterLabel('day act', act)
          }}</ElButton></template
        ><ElButton v-if="lot.phase === 'open'" data-test="day-behalf" @click="behalf = true">Enter on behalf</ElButton
        ><RouterLink v-if="sheet?.over" :to="`/source/events/${id}/compare`"
          ><ElButton type="primary">Compare and award</ElButton></RouterLink
        ><span v-else class="quiet"
          >Not now: award ({{ day.lots.filter(one => one.phase !== 'over').length }}
          {{ day.lots.length === 1 ? 'lot is' : 'lots are' }} not finished)</span
        >
      </p>
      <ReasonList v-if="!acting && !removing" :reasons="reasons" />
      <div class="two">
        <section>
          <h2>{{ lot.title }}, {{ day.currency }}</h2>
          <BidChart
            v-if="lot.bids.length && lot.openedAt"
            :bids="lot.bids"
            :opened="Date.parse(lot.openedAt)"
            :ends="Date.parse(lot.endsAt ?? day.serverTime)"
            :now="now"
            :standing="lot.standing"
            :names="nameOf"
            :currency="day.currency"
          />
          <p v-else class="empty">Bids are drawn here as they come in.</p>
        </section>
        <DayStanding :day="day" :lot="lot" @remove="removing = $event" @changed="reload" />
      </div>
      <section class="section">
        <h2>Lots</h2>
        <LineTable
          :rows="day.lots"
          :columns="
            lineColumns({
              title: 'Lot',
              '#reference': 'Reference',
              '#first': 'First bid',
              '#best': 'Best now',
              '#under': 'Under the reference',
              '#bidders': 'Bidders',
            })
          "
          label="Lots"
          :key-of="one => one.id"
          :now="one => one.id === lotId"
          ><template #title="{ row: one }"
            ><ElButton link :data-test="`lot-${one.position}`" @click="lotId = one.id"
              >{{ one.position }} {{ one.title }}</ElButton
            ><small
              >{{ laterLabel('lot phase', one.phase)
              }}{{
                one.endsAt && one.phase === 'open'
                  ? `, ends ${timeText(one.endsAt)}`
                  : one.opensAt && one.phase === 'planned'
                    ? `, opens ${timeText(one.opensAt)}`
                    : one.byHand && one.phase === 'planned'
                      ? ', opened by hand'
                      : ''
              }}</small
            ></template
          >
          <template #reference="{ row: one }">{{ one.reference ? amountText(one.reference) : '–' }}</template>
          <template #first="{ row: one }">{{ one.first ? amountText(one.first) : '–' }}</template>
          <template #best="{ row: one }"
            ><b>{{ one.standing[0] ? amountText(one.standing[0].total) : '–' }}</b></template
          >
          <template #under="{ row: one }">{{
            one.standing[0] && one.reference ? saving(one.standing[0].total, one.reference).replace(' under', '') : '–'
          }}</template>
          <template #bidders="{ row: one }">{{ one.standing.length }}</template></LineTable
        >
      </section>
    </div>
    <DayMargin v-if="sheet" :sheet="sheet" :day="day" :lot="lot" @changed="reloadSheet" />
    <DayBehalf v-if="behalf" :event-id="id" :day="day" :lot="lot" @close="behalf = false" @done="reload" />
    <ActDialog
      v-if="acting !== ''"
      open
      :title="laterLabel('day act', acting)"
      :what="WHAT[acting]"
      :button="laterLabel('day act', acting)"
      :busy="busy"
      :reasons="reasons"
      :optional="acting === 'start' || acting === 'resume'"
      @close="acting = ''"
      @go="go"
    />
    <ActDialog
      v-if="removing !== ''"
      open
      title="Take the bid out"
      what="The bid before it stands again; the clock stays as it is. Its bidder is told, with your reason."
      button="Take it out"
      :busy="busy"
      :reasons="reasons"
      @close="removing = ''"
      @go="remove"
    />
  </main>
</template>

<style scoped>
.day {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 290px;
  min-height: 100%;
  background: var(--sheet);
  overflow: auto;
}
.main {
  padding: 18px 28px 40px;
  min-width: 0;
}
.head {
  display: flex;
  justify-content: space-between;
  gap: 24px;
  align-items: flex-end;
}
.lead {
  font-size: 14px;
  max-width: 620px;
  margin-top: 3px;
}
.clock {
  text-align: right;
  white-space: nowrap;
}
.clock b {
  display: block;
  font: 600 34px/1.1 var(--serif);
  font-feature-settings: 'tnum';
}
.acts {
  margin: 12px 0 16px;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(260px, 1fr);
  gap: 30px;
}
@media (max-width: 1000px) {
  .day,
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
