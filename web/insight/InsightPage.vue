<script setup lang="ts">
import { ElButton } from 'element-plus'
import { onMounted, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { Budgets, RunAudit } from '#contract/insight/endpoints.ts'
import { api } from '#web/api.ts'
import StageFrame from '#web/frame/StageFrame.vue'
import { useSession } from '#web/people/session.ts'
import { useAction } from '#web/shared/useAction.ts'

const route = useRoute()
const session = useSession()
const { busy, run } = useAction()
const report = shallowRef<ResponseOf<typeof RunAudit>>()
const audit = async (): Promise<void> => { report.value = await run(() => api(RunAudit)) }
onMounted(() => { if (route.query.audit && session.may('audit.run')) void audit() })
</script>

<template>
  <StageFrame stage="insight" name="budgets" :list="Budgets">
    <template v-if="session.may('audit.run')" #acts><p class="bar list-acts"><ElButton size="small" :disabled="busy" data-test="audit" @click="audit">Re-add the books</ElButton></p>
      <div v-if="report" class="reasons" :class="report.differences.length ? '' : 'note'" role="status" data-test="audit-result"><strong>{{ report.differences.length ? `${report.differences.length} differences` : 'The books re-add' }}</strong><p>{{ report.quantityEntries }} quantity entries, {{ report.budgetEntries }} budget entries and {{ report.historyRecords }} history records were gone through.</p><ul v-if="report.differences.length"><li v-for="one in report.differences" :key="one.check + one.document">{{ one.document }}: {{ one.check }}, expected {{ one.expected }}, found {{ one.found }}</li></ul></div></template>
    <RouterView />
  </StageFrame>
</template>
