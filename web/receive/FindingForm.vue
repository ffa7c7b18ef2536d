<script setup lang="ts">
import { ElButton, ElInput, ElInputNumber } from 'element-plus'
import { computed, reactive, ref, watch } from 'vue'
import type { BodyOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import type { ConcludeInspection } from '#contract/receive/inspections.ts'
import { isMeasured, lookedAt, type Reading, verdict } from '#core/receive/inspection.ts'
import { Decimal, isHeldDecimal, tidy } from '#core/money/decimal.ts'
import type { SamplingPlan } from '#core/receive/sampling.ts'
import type { Characteristic } from '#core/receive/terms.ts'
import ReadingTable from '#web/receive/ReadingTable.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import { quantityText, unit as unitText } from '#web/shared/words.ts'

/** What somebody found and what becomes of the goods: the figures below follow from what failed and can be set otherwise, with a reason. */
const props = defineProps<{
  left: string
  unit: string
  plan: SamplingPlan
  characteristics: readonly Characteristic[]
  reasons: readonly ReasonJson[]
  busy: boolean
}>()
const emit = defineEmits<{ typing: []; go: [finding: Omit<BodyOf<typeof ConcludeInspection>, 'version'>] }>()
const measures = computed(() => lookedAt(props.characteristics).some(isMeasured))
const blank = (value: 'pass' | 'fail'): Reading =>
  Object.fromEntries(lookedAt(props.characteristics).map(one => [one.name, isMeasured(one) ? '' : value]))
/** A table longer than this is added to piece by piece. */
const AT_ONCE = 20
const form = reactive({
  looked: props.plan.sample,
  readings: measures.value ? Array.from({ length: Math.min(props.plan.sample, AT_ONCE) }, () => blank('pass')) : [],
  accepted: props.left,
  deducted: '0',
  deductPercent: '',
  rejected: '0',
  reason: '',
})
const found = computed(() => verdict(props, form.readings))
/** Pieces of which a value is still missing. */
const unread = computed(
  () =>
    form.readings.filter(reading =>
      lookedAt(props.characteristics).some(one => isMeasured(one) && (reading[one.name] ?? '') === ''),
    ).length,
)
/** Until somebody says otherwise, all is taken that passes, and nothing that does not. */
const byHand = ref(false)
watch(
  () => found.value.passes,
  passes => {
    if (byHand.value) return
    form.accepted = passes ? props.left : '0'
    form.rejected = passes ? '0' : props.left
  },
)
function set(key: 'accepted' | 'deducted' | 'rejected', value: string): void {
  byHand.value = true
  form[key] = value
  const rest = (one: string, other: string): string =>
    [one, other].every(isHeldDecimal)
      ? tidy(Decimal.max(0, new Decimal(props.left).minus(one).minus(other)))
      : form.accepted
  if (key === 'accepted') form.rejected = rest(value, form.deducted)
  else form.accepted = rest(form.deducted, form.rejected)
}
function add(value: 'pass' | 'fail'): void {
  form.readings = [...form.readings, blank(value)]
  if (form.readings.length > form.looked) form.looked = form.readings.length
}
const deducts = computed(() => isHeldDecimal(form.deducted) && new Decimal(form.deducted).gt(0))
</script>

<template>
  <EntryForm
    class="section"
    columns
    :reasons="reasons"
    :busy="busy"
    @input="emit('typing')"
    @submit="emit('go', { ...form, deductPercent: form.deductPercent || '0' })"
  >
    <FormField
      label="How many were looked at"
      place="looked"
      :help="`The plan: ${plan.sample}, of which ${plan.acceptUpTo} may fail`"
      ><ElInputNumber v-model="form.looked" :min="1" :controls="false" data-test="looked"
    /></FormField>
    <FormField label="What they showed" whole place="readings"
      ><ReadingTable
        v-if="form.readings.length"
        :readings="form.readings"
        :characteristics="characteristics"
        @change="form.readings = $event"
      />
      <p
        role="status"
        data-test="verdict"
        class="verdict"
        :class="unread > 0 ? '' : found.passes ? 'tone-settled' : 'tone-stop'"
      >
        <template v-if="unread > 0">{{ unread }} are not measured yet.</template
        ><template v-else
          >{{ found.failed === 0 ? 'None failed' : `${found.failed} failed` }}, {{ plan.acceptUpTo }} may:
          {{ found.passes ? 'it passes.' : 'it does not pass.' }}</template
        >
      </p>
      <ElButton v-if="measures" data-test="add-reading" @click="add('pass')">Another piece</ElButton
      ><ElButton v-if="!measures" data-test="add-failed" @click="add('fail')">One failed</ElButton></FormField
    >
    <FormField :label="`Taken as it is, of ${quantityText(left)} ${unitText(unit)}`" place="accepted"
      ><NumberField
        :model-value="form.accepted"
        label="Taken as it is"
        data-test="accepted"
        @update:model-value="set('accepted', $event)" /></FormField
    ><FormField label="Not taken: it goes back" place="rejected"
      ><NumberField
        :model-value="form.rejected"
        label="Not taken"
        data-test="rejected"
        @update:model-value="set('rejected', $event)" /></FormField
    ><FormField label="Taken for less" place="deducted"
      ><NumberField
        :model-value="form.deducted"
        label="Taken for less"
        data-test="deducted"
        @update:model-value="set('deducted', $event)" /></FormField
    ><FormField v-if="deducts" label="Per cent off its price" place="deductPercent" help="Taken off by a debit note"
      ><NumberField
        :model-value="form.deductPercent"
        label="Per cent off its price"
        data-test="deduct-percent"
        @update:model-value="form.deductPercent = $event" /></FormField
    ><FormField label="Why" whole place="reason"
      ><ElInput v-model="form.reason" type="textarea" :rows="2" maxlength="4000" data-test="finding-reason"
    /></FormField>
    <template #acts
      ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="conclude">That is what it is</ElButton>
    </template>
  </EntryForm>
</template>

<style scoped>
.verdict {
  flex-basis: 100%;
  width: 100%;
}
</style>
