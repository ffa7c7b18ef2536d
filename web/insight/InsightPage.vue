<script setup lang="ts">
import { ElButton } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { Budgets, RunAudit } from '#contract/insight/endpoints.ts'
import { ImportBudgets } from '#contract/budgets/endpoints.ts'
import { api } from '#web/api.ts'
import StageFrame from '#web/frame/StageFrame.vue'
import ImportDialog from '#web/shared/ImportDialog.vue'
import { useSession } from '#web/people/session.ts'
import { useAction } from '#web/shared/useAction.ts'

const route = useRoute()
const session = useSession()
const { busy, run } = useAction()
const importing = ref(false)
const report = shallowRef<ResponseOf<typeof RunAudit>>()
const audit = async (): Promise<void> => {
  report.value = await run(() => api(RunAudit))
}
onMounted(() => {
  if (route.query.audit && session.may('audit.run')) void audit()
})
</script>

<template>
  <StageFrame stage="insight" name="budgets" :list="Budgets">
    <template #acts
      ><p class="bar list-acts">
        <RouterLink to="/insight/transfers" data-test="transfers">Move budget</RouterLink
        ><template v-if="session.may('budget.write')"
          ><RouterLink to="/insight/years" data-test="years">Change the year</RouterLink
          ><ElButton link data-test="import-budgets" @click="importing = true"> Import budgets </ElButton></template
        ><ElButton v-if="session.may('audit.run')" size="small" :disabled="busy" data-test="audit" @click="audit"
          >Re-add the books</ElButton
        >
      </p>
      <div
        v-if="report"
        class="reasons"
        :class="report.differences.length ? '' : 'note'"
        role="status"
        data-test="audit-result"
      >
        <strong>{{
          report.differences.length ? `${report.differences.length} differences` : 'The books re-add'
        }}</strong>
        <p>
          {{ report.quantityEntries }} quantity entries, {{ report.budgetEntries }} budget entries and
          {{ report.historyRecords }} history records were gone through.
        </p>
        <ul v-if="report.differences.length">
          <li v-for="one in report.differences" :key="one.check + one.document">
            {{ one.document }}: {{ one.check }}, expected {{ one.expected }}, found {{ one.found }}
          </li>
        </ul>
      </div></template
    >
    <RouterView />
  </StageFrame>
  <ImportDialog
    v-if="importing"
    title="Import budgets"
    what="a CSV file with the columns cost_centre, account, year, amount and, if you like, project, check (off, note, check, stop) and tolerance_percent; each row says what the allotment shall be"
    :send="(fileId, dryRun) => api(ImportBudgets, { body: { fileId, dryRun } })"
    @close="importing = false"
  />
</template>
