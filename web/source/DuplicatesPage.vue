<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { DecidePair, ReadPairs, StartSearch } from '#contract/source/duplicates.ts'
import { LONG_JOB_GROUPS } from '#core/desk/longJob.ts'
import { isIn } from '#core/states.ts'
import { api } from '#web/api.ts'
import { documentTopic, kindTopic, useNews } from '#web/news/news.ts'
import { useSession } from '#web/people/session.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label, since, words } from '#web/shared/words.ts'
import JobProgress from '#web/source/JobProgress.vue'
import MergeDialog from '#web/source/MergeDialog.vue'

/** Pairs of records that may be one supplier: merge them, or say that they are different and why. */
type Pair = ResponseOf<typeof ReadPairs>['pairs'][number]
const route = useRoute()
const router = useRouter()
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const answer = shallowRef<ResponseOf<typeof ReadPairs>>()
const merging = ref<Pair>()
const telling = ref<Pair>()
const state = computed(() =>
  ['different', 'merged'].includes(String(route.query.state)) ? (route.query.state as 'different') : 'open',
)
async function load(): Promise<void> {
  answer.value = await run(() => api(ReadPairs, { query: { state: state.value } }))
}
onMounted(load)
watch(state, load)
useNews(
  () => [kindTopic('supplier'), ...(answer.value?.job ? [documentTopic(answer.value.job.id)] : [])],
  () => void load(),
)
async function start(): Promise<void> {
  if (await run(() => api(StartSearch))) await load()
}
async function decide(pair: Pair, different: boolean, reason: string): Promise<void> {
  if (await run(() => api(DecidePair, { body: { aId: pair.a.id, bId: pair.b.id, different, reason } }))) {
    telling.value = undefined
    await load()
  }
}
const running = computed(() => isIn(LONG_JOB_GROUPS.going, answer.value?.job?.state ?? ''))
</script>

<template>
  <main class="page">
    <div class="column">
      <p class="quiet"><RouterLink to="/source">← Suppliers</RouterLink></p>
      <h1>One supplier, two records?</h1>
      <p class="bar top">
        <ElButton
          v-if="session.may('supplier.merge')"
          :disabled="busy || running"
          data-test="start-search"
          @click="start"
          >Look through all records</ElButton
        ><JobProgress v-if="answer?.job && running" :job="answer.job" /><span v-else-if="answer?.job" class="quiet"
          >Last looked {{ answer.job.finishedAt ? since(answer.job.finishedAt) : '' }}:
          {{
            answer.job.failure ??
            `${answer.job.result?.compared ?? 0} records, ${answer.job.result?.found ?? 0} new pairs`
          }}</span
        >
      </p>
      <p class="bar tabs">
        <ElButton
          link
          v-for="one in ['open', 'different', 'merged']"
          :key="one"
          :class="{ now: one === state }"
          @click="router.replace({ query: one === 'open' ? {} : { state: one } })"
        >
          {{ { open: 'To decide', different: 'Marked as different', merged: 'Merged' }[one] }}
        </ElButton>
      </p>
      <ReasonList v-if="!telling && !merging" :reasons="reasons" />
      <p v-if="answer && !answer.pairs.length" class="empty">
        {{ state === 'open' ? 'No pair waits. Look through all records to find some.' : 'None.' }}
      </p>
      <article
        v-for="pair in answer?.pairs"
        :key="pair.a.id + pair.b.id"
        class="pair"
        :data-test="`pair-${pair.a.number}-${pair.b.number}`"
      >
        <p class="percent" :class="pair.percent >= 85 ? 'tone-stop' : 'tone-attention'">{{ pair.percent }} %</p>
        <div v-for="one in [pair.a, pair.b]" :key="one.id">
          <RouterLink :to="`/source/${one.id}`"
            ><b>{{ one.name }}</b></RouterLink
          ><br /><span class="quiet">{{
            [one.number, one.city, one.country, one.state !== 'active' ? label('state', one.state) : '']
              .filter(Boolean)
              .join(', ')
          }}</span>
        </div>
        <p class="why">
          <span v-for="reason in pair.reasons" :key="reason.code" :class="{ quiet: !reason.for }"
            >{{ reason.for ? '+' : '−' }} {{ words(reason) }}</span
          >
        </p>
        <p v-if="pair.reason" class="quiet said">“{{ pair.reason }}”, {{ pair.decidedBy }}</p>
        <p v-if="session.may('supplier.merge')" class="bar acts">
          <template v-if="pair.state === 'open'"
            ><ElButton
              size="small"
              data-test="merge-pair"
              @click="
                () => {
                  clear()
                  merging = pair
                }
              "
              >Merge …</ElButton
            ><ElButton
              link
              data-test="different"
              @click="
                () => {
                  clear()
                  telling = pair
                }
              "
            >
              They are different
            </ElButton></template
          ><ElButton link v-else-if="pair.state === 'different'" @click="decide(pair, false, '')">
            open the question again
          </ElButton>
        </p>
      </article>
      <p v-if="answer?.more" class="quiet">More pairs follow when these are decided.</p>
    </div>
    <MergeDialog
      v-if="merging"
      :kept="merging.a"
      :merged="merging.b"
      @close="merging = undefined"
      @merged="
        () => {
          merging = undefined
          load()
        }
      "
      @asked="router.push(`/source/second-yes/${$event}`)"
    />
    <ActDialog
      :open="!!telling"
      title="Two different suppliers"
      what="The pair is not shown again; your reason is kept in both histories."
      button="They are different"
      :busy="busy"
      :reasons="reasons"
      @close="telling = undefined"
      @go="telling && decide(telling, true, $event)"
    />
  </main>
</template>

<style scoped>
.page {
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  padding: 20px 24px 60px;
}
.column {
  max-width: 900px;
  margin: 0 auto;
}
.top {
  margin: 12px 0 4px;
}
.tabs {
  gap: 18px;
  margin: 10px 0;
}
.now {
  color: var(--ink);
  font-weight: 600;
}
.pair {
  display: grid;
  grid-template-columns: 66px 1fr 1fr;
  gap: 4px 18px;
  padding: 12px 0;
  border-top: 1px solid var(--rule-light);
}
.percent {
  font-size: 19px;
  font-weight: 600;
  font-variant-numeric: tabular-nums;
}
.why,
.acts,
.said {
  grid-column: 2 / 4;
}
.why {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  font-size: 12.3px;
}
@media (max-width: 700px) {
  .pair {
    grid-template-columns: 1fr;
  }
  .why,
  .acts,
  .said {
    grid-column: 1;
  }
}
</style>
