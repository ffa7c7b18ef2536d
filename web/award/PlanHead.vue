<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadPlanProgress } from '#contract/award/plans.ts'
import { ProposeAward } from '#contract/source/comparing.ts'
import { differenceText, isZeroText } from '#core/money/text.ts'
import { api } from '#web/api.ts'
import { gapText, type Plan, type PlanRow, reasonText } from '#web/award/planText.ts'
import JobProgress from '#web/source/JobProgress.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import { useAction } from '#web/shared/useAction.ts'
import { amountText } from '#web/shared/words.ts'

/** What the plan costs and how good that is; what it is against what else could be done; and what can be done with it. */
const props = defineProps<{
  plan: Plan
  row: PlanRow | null
  running: boolean
  busy: boolean
  progress: ResponseOf<typeof ReadPlanProgress> | undefined
}>()
const emit = defineEmits<{ compute: []; stop: []; terms: [] }>()
const router = useRouter()
const action = useAction()
const awarding = ref(false)
const rows = computed(() => props.plan.run?.outcome?.rows ?? [])
const costOf = (key: string): string | undefined => rows.value.find(one => one.key === key)?.cost
const soFar = computed(() => (props.running ? props.progress?.soFar : null) ?? null)
const title = computed(() => {
  const { currency, run } = props.plan
  if (!run) return 'Nothing is planned yet'
  if (run.state === 'failed') return 'The plan could not be computed'
  if (!run.outcome)
    return soFar.value?.cost
      ? `${currency} ${amountText(soFar.value.cost)} so far${soFar.value.gap ? `, no plan can be cheaper by more than ${gapText(soFar.value.gap)}` : ''}`
      : 'Looking for the best plan'
  if (!props.row) return 'No plan keeps all wishes'
  const cost = `${currency} ${amountText(props.row.cost)}`
  if (props.row.gap === null) return cost
  return props.row.key === 'best' || props.row.breaks.length === 0
    ? `${cost}, and no plan can be cheaper by more than ${gapText(props.row.gap)}`
    : cost
})
const PERCENT = 100
/** Sentences of what the chosen plan is against the others, and against the computation before. */
const said = computed(() => {
  const own = props.row?.cost
  if (!own) return []
  const free = costOf('withoutWishes')
  const hand = costOf('byHand')
  const { before, currency } = props.plan
  const best = props.row?.key === 'best'
  const less = hand === undefined ? undefined : differenceText(hand, own)
  const moved = best && before ? differenceText(own, before.cost) : undefined
  return [
    ...(best && free !== undefined && props.plan.wishes.length > 0
      ? [
          isZeroText(differenceText(own, free))
            ? 'Your wishes cost nothing.'
            : `Your wishes cost ${currency} ${amountText(differenceText(own, free))} against the cheapest plan of all.`,
        ]
      : []),
    ...(less === undefined || props.row?.key === 'byHand' || Number(less) <= 0
      ? []
      : [
          `It is ${currency} ${amountText(less)} (${((Number(less) / Number(hand)) * PERCENT).toFixed(1)} %) under the award made by hand.`,
        ]),
    ...(moved === undefined || isZeroText(moved)
      ? []
      : [
          `The last change made it ${currency} ${amountText(moved.replace('-', ''))} ${moved.startsWith('-') ? 'cheaper' : 'dearer'}${movedLines.value ? `; ${movedLines.value} ${movedLines.value === 1 ? 'line goes' : 'lines go'} elsewhere` : ''}.`,
        ]),
  ]
})
/** Lines that go to others than in the computation before. */
const movedLines = computed(() => {
  const shares = (
    list: readonly { lineId: string; supplierId: string; quantity: string }[] | undefined,
    line: string,
  ): string =>
    (list ?? [])
      .filter(one => one.lineId === line)
      .map(one => `${one.supplierId} ${one.quantity}`)
      .sort()
      .join()
  return props.plan.lines.filter(
    line => shares(props.plan.before?.shares, line.id) !== shares(props.row?.shares, line.id),
  ).length
})
const reason = computed(() => (props.row ? reasonText(props.plan, props.row, props.plan.run?.wishes ?? []) : ''))
async function award(more: string): Promise<void> {
  const body = {
    version: props.plan.eventVersion,
    shares: props.row!.shares.map(one => ({ ...one })),
    reason: [reason.value, more.trim()].filter(Boolean).join(' '),
  }
  if (await action.run(() => api(ProposeAward, { params: { id: eventId.value }, body })))
    await router.push(`/source/events/${eventId.value}`)
}
const eventId = computed(() => String(router.currentRoute.value.params.id))
const byHand = (): void =>
  void router.push({
    path: `/source/events/${eventId.value}/compare`,
    state: { shares: JSON.stringify(props.row?.shares ?? []) },
  })
</script>

<template>
  <h1 data-test="plan-title">{{ title }}</h1>
  <p v-if="plan.run?.failure" class="tone-stop">{{ plan.run.failure }}</p>
  <p v-if="said.length" class="said" data-test="plan-said">{{ said.join(' ') }}</p>
  <p v-if="plan.run?.outdated" class="tone-attention" data-test="plan-outdated">
    Answers, scores or rates are others now than those that this was computed from.
  </p>
  <p v-if="plan.run?.outcome?.short.length" class="tone-attention">
    {{ plan.run.outcome.short.length }} {{ plan.run.outcome.short.length === 1 ? 'line' : 'lines' }} cannot be had whole
    from anybody; what is missing stays open.
  </p>
  <p class="bar acts">
    <ElButton
      v-if="plan.mayPropose && row && !running"
      type="primary"
      :disabled="busy"
      data-primary
      data-test="award-plan"
      @click="awarding = true"
      >Award like this</ElButton
    >
    <ElButton v-if="plan.mayPropose && row" :disabled="busy" data-test="plan-by-hand" @click="byHand"
      >Change by hand</ElButton
    >
    <ElButton v-if="plan.mayPlan" :disabled="busy" data-test="plan-terms" @click="emit('terms')">Their terms</ElButton>
    <ElButton
      v-if="plan.mayPlan && !running"
      :type="plan.run ? undefined : 'primary'"
      :disabled="busy"
      data-test="plan-compute"
      @click="emit('compute')"
      >{{ plan.run ? 'Compute again' : 'Find the best plan' }}</ElButton
    >
    <template v-if="running && progress"
      ><JobProgress :job="progress.job" data-test="plan-progress" /><ElButton
        link
        data-test="plan-stop"
        @click="emit('stop')"
        >stop, keep the best so far</ElButton
      ></template
    >
  </p>
  <ActDialog
    :open="awarding"
    :title="`Award: ${laterLabel('plan row', row?.key ?? 'best')}`"
    :what="reason"
    button="Propose the award"
    :busy="action.busy.value"
    :reasons="action.reasons.value"
    optional
    @close="awarding = false"
    @go="award"
  />
</template>

<style scoped>
h1 {
  margin: 4px 0;
}
.said {
  max-width: 680px;
  margin: 2px 0;
}
.acts {
  margin: 12px 0 18px;
  align-items: center;
}
</style>
