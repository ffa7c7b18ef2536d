<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { RecheckAwardPlan } from '#contract/award/plans.ts'
import { api } from '#web/api.ts'
import type { Plan } from '#web/award/planText.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, day, stamp } from '#web/shared/words.ts'

/** How a plan was found, and whether it comes to the same cent when it is added up again from what it was made of. */
const props = defineProps<{ plan: Plan; eventId: string }>()
const { busy, reasons, run } = useAction()
const again = ref<ResponseOf<typeof RecheckAwardPlan>['plans']>()
async function recheck(): Promise<void> {
  again.value = (await run(() => api(RecheckAwardPlan, { params: { id: props.eventId } })))?.plans
}
</script>

<template>
  <section v-if="plan.run?.outcome">
    <h3>How it was found</h3>
    <p class="quiet">
      Answers of {{ day(plan.run.at.slice(0, 10)) }}, rates of {{ day(plan.ratesOn) }}. By {{ plan.run.by }},
      {{ stamp(plan.run.at) }}{{ plan.run.seconds === null ? '' : `, ${plan.run.seconds.toFixed(1)} s` }}.
      <span v-if="plan.run.outcome.stopped">It was stopped before everything beside the best plan was computed.</span>
      Other code than the one that found them adds plans up.
      <ElButton link :disabled="busy" data-test="plan-recheck" @click="recheck">Add them up again</ElButton>
    </p>
    <ReasonList v-if="reasons.length" :reasons="reasons" />
    <p v-if="again" role="status" data-test="plan-rechecked">
      <template v-if="again.every(one => one.same)">All {{ again.length }} come to the same cent.</template>
      <template v-for="one in again.filter(other => !other.same)" v-else :key="one.key"
        >{{ laterLabel('plan row', one.key) }}: {{ amountText(one.kept) }} was kept, {{ amountText(one.again) }} comes
        out now.</template
      >
    </p>
  </section>
</template>
