<script setup lang="ts">
import '#contract/messages/later.ts'
import { computed, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { type JobJson, ReadJob, SeeJob } from '#contract/source/duplicates.ts'
import { LONG_JOB_GROUPS } from '#core/desk/longJob.ts'
import { isIn } from '#core/states.ts'
import { api } from '#web/api.ts'
import { documentTopic, useNews } from '#web/news/news.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import ImportOutcome from '#web/source/ImportOutcome.vue'
import JobProgress from '#web/source/JobProgress.vue'

/** A long job that was left, found again from the Desk. */
const route = useRoute()
const { reasons, run } = useAction()
const job = shallowRef<JobJson>()
const id = computed(() => String(route.params.id))
const TITLES: Readonly<Record<string, string>> = {
  duplicates: 'Search for duplicates',
  workbook: 'Workbook of orders',
}
async function load(): Promise<void> {
  job.value = (await run(() => api(ReadJob, { params: { id: id.value } }))) ?? job.value
  // seen how it ended: it leaves the Desk
  if (job.value && isIn(LONG_JOB_GROUPS.ended, job.value.state)) await api(SeeJob, { params: { id: id.value } })
}
watch(id, load, { immediate: true })
useNews(
  () => [documentTopic(id.value)],
  () => void load(),
)
</script>

<template>
  <article class="job">
    <h1>{{ TITLES[job?.kind ?? ''] ?? 'Import of suppliers' }}</h1>
    <template v-if="job"
      ><JobProgress v-if="isIn(LONG_JOB_GROUPS.going, job.state)" :job="job" />
      <p v-else-if="job.state === 'failed'" class="reasons">{{ job.failure }}</p>
      <p v-else-if="job.kind === 'duplicates'">
        {{ job.result?.compared }} records were compared; {{ job.result?.found }} new pairs wait
        <RouterLink to="/source/duplicates">to be decided</RouterLink>.
      </p>
      <p v-else-if="job.kind === 'workbook'" data-test="workbook-result">
        {{ job.result?.lines }} lines of {{ job.result?.orders }} orders are changed, {{ job.result?.failed }} were
        refused when it was done; suppliers get {{ job.result?.mails }} mails.
      </p>
      <ImportOutcome v-else :job="job"
    /></template>
    <ReasonList :reasons="reasons" />
  </article>
</template>

<style scoped>
.job {
  padding: 20px 28px 60px;
  max-width: 760px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
</style>
