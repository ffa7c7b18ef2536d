<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElRadio, ElRadioGroup, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import { AddStep, FreeRequest, PassStep, ReadCandidates, SkipStep } from '#contract/decide/endpoints.ts'
import type { StepJson } from '#contract/fields.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { sayInPassing } from '#web/shared/message.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, day, label } from '#web/shared/words.ts'

/**
 * Moves a decision that does not move by itself: to somebody else, past it, with somebody more, back to the
 * requester, or asked for anew.
 */
const props = defineProps<{ id: string; version: number; steps: readonly StepJson[]; onlyAdd: boolean }>()
const emit = defineEmits<{ close: []; done: [] }>()
const WAYS = {
  pass: 'Pass the decision on to somebody else',
  add: 'Let somebody else decide, too',
  skip: 'Skip the decision',
  askAgain: 'Find the way anew, by the rules and people of today',
  sendBack: 'Send the request back to its requester',
} as const
const WHAT: Readonly<Record<keyof typeof WAYS, string>> = {
  pass: 'Whoever had it is not asked any more.',
  add: 'Nobody is taken away: this person decides beside those who do now.',
  skip: 'The others still decide. Above the amount of Setup a second person has to agree first.',
  askAgain: 'What was decided stands where the same rule asks the same person; only the rest is asked.',
  sendBack: 'It becomes the requester’s draft again; the budget it holds is free until then.',
}
const waiting = computed(() => props.steps.filter(step => step.state === 'open' || step.state === 'later'))
const way = ref<keyof typeof WAYS>(props.onlyAdd ? 'add' : 'pass')
const stepId = ref((waiting.value.find(step => step.stall) ?? waiting.value[0])?.id ?? '')
const personId = ref('')
const reason = ref('')
const { data } = useRead(ReadCandidates, { params: { id: props.id } })
const { busy, reasons, run } = useAction()
const named = computed(() => way.value === 'pass' || way.value === 'add')
const ready = computed(() => reason.value.trim().length >= 3 && (!named.value || personId.value !== ''))
type Candidate = NonNullable<typeof data.value>['candidates'][number]
const about = (one: Candidate): string =>
  [
    one.limit === null
      ? 'no limit'
      : `up to ${amountText(one.limit)} ${data.value?.currency ?? ''}${one.enough ? '' : ', too low'}`,
    one.waiting === 1 ? 'one thing waits' : `${one.waiting} things wait`,
    ...(one.awayUntil ? [`away until ${day(one.awayUntil)}`] : []),
  ].join(', ')
const stepText = (step: StepJson): string =>
  `${step.approvers.map(one => one.name).join(' or ')}${step.stall ? ` (${label('stall', step.stall)})` : ''}`
async function go(): Promise<void> {
  const { id, version } = props
  const params = { id }
  const body = { version, reason: reason.value }
  const done = await run(async (): Promise<{ version: number; waits?: boolean }> => {
    switch (way.value) {
      case 'pass':
        return api(PassStep, { params: { id, stepId: stepId.value }, body: { ...body, toPersonId: personId.value } })
      case 'add':
        return api(AddStep, { params, body: { ...body, personId: personId.value } })
      case 'skip':
        return api(SkipStep, { params: { id, stepId: stepId.value }, body })
      case 'askAgain':
      case 'sendBack':
        return api(FreeRequest, { params, body: { ...body, how: way.value } })
    }
  })
  if (!done) return
  if (done.waits) sayInPassing('A second person has to agree first; it stands on their Desk.')
  emit('done')
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="onlyAdd ? WAYS.add : 'What shall become of it'"
    width="560px"
    @close="emit('close')"
  >
    <EntryForm :reasons="reasons" :busy="busy" @submit="go">
      <ElRadioGroup v-if="!onlyAdd" v-model="way" class="ways" aria-label="What shall become of it"
        ><ElRadio v-for="(text, key) in WAYS" :key="key" :value="key" :data-test="`way-${key}`">{{
          text
        }}</ElRadio></ElRadioGroup
      >
      <p class="quiet what">{{ WHAT[way] }}</p>
      <FormField v-if="(way === 'pass' || way === 'skip') && waiting.length > 1" label="Whose decision"
        ><ElSelect v-model="stepId" data-test="which-step"
          ><ElOption
            v-for="step in waiting"
            :key="step.id ?? ''"
            :value="step.id ?? ''"
            :label="stepText(step)" /></ElSelect
      ></FormField>
      <FormField v-if="named" label="To" place="personId"
        ><ElSelect v-model="personId" filterable default-first-option data-test="pass-to"
          ><ElOption v-for="one in data?.candidates ?? []" :key="one.id" :value="one.id" :label="one.name"
            ><span class="candidate"
              ><span>{{ one.name }}</span
              ><span class="quiet">{{ about(one) }}</span></span
            ></ElOption
          ></ElSelect
        ></FormField
      >
      <FormField label="Reason" place="reason"
        ><ElInput v-model="reason" type="textarea" :rows="2" maxlength="4000" data-test="reason"
      /></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="!ready || busy" data-test="confirm">Do it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.ways {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
}
.what {
  margin: 4px 0 12px;
}
.candidate {
  display: flex;
  justify-content: space-between;
  gap: 16px;
}
</style>
