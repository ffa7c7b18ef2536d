<script setup lang="ts">
import '#contract/messages/later.ts'
import '#web/theme/later.scss'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { ChangeAwardPlan, ReadAwardPlan, ReadPlanProgress, StopAwardPlan } from '#contract/award/plans.ts'
import { api } from '#web/api.ts'
import PlanBidDialog from '#web/award/PlanBidDialog.vue'
import PlanConflict from '#web/award/PlanConflict.vue'
import PlanCurve from '#web/award/PlanCurve.vue'
import PlanFound from '#web/award/PlanFound.vue'
import PlanHead from '#web/award/PlanHead.vue'
import PlanLines from '#web/award/PlanLines.vue'
import PlanRows from '#web/award/PlanRows.vue'
import PlanShares from '#web/award/PlanShares.vue'
import PlanWishes from '#web/award/PlanWishes.vue'
import TermsDialog from '#web/award/TermsDialog.vue'
import type { Plan, PlanWish } from '#web/award/planText.ts'
import WorkPage from '#web/frame/WorkPage.vue'
import { documentTopic } from '#web/news/news.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** The award plan of an event: the best way to give every line, how good it is, and what each wish costs. */
const route = useRoute()
const id = computed(() => String(route.params.id))
const topics = () => [documentTopic(id.value)]
const {
  data: plan,
  failure,
  reload,
} = useRead(ReadAwardPlan, () => ({ params: { id: id.value } }), { topics, keep: true })
const { busy, reasons, run } = useAction()
const chosen = ref('best')
const terms = ref(false)
const bidOf = ref('')
const running = computed(() => ['waiting', 'running', 'applying'].includes(plan.value?.run?.state ?? ''))
const outcome = computed(() => plan.value?.run?.outcome ?? null)
const row = computed(() => outcome.value?.rows.find(one => one.key === chosen.value) ?? outcome.value?.rows[0] ?? null)
const jobTopics = () => (plan.value?.run ? [documentTopic(plan.value.run.jobId)] : [])
const { data: progress } = useRead(ReadPlanProgress, () => ({ params: { id: id.value } }), {
  topics: jobTopics,
  when: running,
  keep: true,
})
/** A computation that fails says so as a job only. */
watch(
  () => progress.value?.job.state,
  state => {
    if (running.value && (state === 'failed' || state === 'done')) void reload()
  },
)
async function change(body: { wishes?: readonly PlanWish[]; terms?: Plan['terms'] }): Promise<void> {
  const known = plan.value!
  const done = await run(() =>
    api(ChangeAwardPlan, {
      params: { id: id.value },
      body: { version: known.version, wishes: [...(body.wishes ?? known.wishes)], terms: body.terms ?? known.terms },
    }),
  )
  if (done) terms.value = false
  if (done) bidOf.value = ''
  await reload()
}
const stop = (): void => void run(() => api(StopAwardPlan, { params: { id: id.value } }))
</script>

<template>
  <WorkPage :margin="320">
    <SheetFailure v-if="failure" :failure="failure" @again="reload" />
    <template v-else-if="plan">
      <p class="quiet">
        <RouterLink :to="`/source/events/${id}`" data-test="back-to-event">← {{ plan.number }}</RouterLink>
        <b> Award plan</b>, {{ plan.title }}: {{ plan.lines.length }} lines, {{ plan.suppliers.length }} suppliers,
        prices landed in {{ plan.currency }}
      </p>
      <ReasonList v-if="plan.reasons.length" :reasons="plan.reasons" />
      <template v-else>
        <ReasonList v-if="reasons.length && !terms && !bidOf" :reasons="reasons" />
        <PlanHead
          :plan="plan"
          :row="row"
          :running="running"
          :progress="progress"
          :busy="busy"
          @compute="change({})"
          @stop="stop"
          @terms="terms = true"
        />
        <PlanConflict v-if="outcome?.conflict" :plan="plan" :outcome="outcome" @drop="wishes => change({ wishes })" />
        <template v-if="outcome && outcome.rows.length">
          <div class="pair">
            <PlanRows v-model="chosen" :plan="plan" :rows="outcome.rows" />
            <PlanCurve :outcome="outcome" :row="row" />
          </div>
          <PlanLines v-if="row" :plan="plan" :outcome="outcome" :row="row" @open="bidOf = $event" />
        </template>
      </template>
      <TermsDialog
        v-if="terms"
        :plan="plan"
        :reasons="reasons"
        :busy="busy"
        @close="terms = false"
        @keep="kept => change({ terms: kept })"
      />
      <PlanBidDialog
        v-if="bidOf"
        :plan="plan"
        :line-id="bidOf"
        :reasons="reasons"
        :busy="busy"
        @close="bidOf = ''"
        @keep="kept => change({ terms: kept })"
      />
    </template>
    <template v-if="plan && !failure && !plan.reasons.length" #margin>
      <aside class="margin" aria-label="Margin">
        <PlanWishes :plan="plan" :busy="busy" @change="wishes => change({ wishes })" />
        <PlanShares v-if="row" :plan="plan" :row="row" />
        <PlanFound :plan="plan" :event-id="id" />
      </aside>
    </template>
  </WorkPage>
</template>

<style scoped>
.margin {
  border-left: 1px solid var(--rule);
  padding: 18px 18px 60px;
}
.margin :deep(section + section) {
  margin-top: 22px;
}
</style>
