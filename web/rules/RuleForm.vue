<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import type { ReadRules, RuleJson } from '#contract/rules/endpoints.ts'
import { DECIDED_KINDS } from '#core/rules/facts.ts'
import { MEASURES, MOST_LEVELS, MOST_STAGES, NEEDS, SCOPES } from '#core/rules/rule.ts'
import ConditionField from '#web/rules/ConditionField.vue'
import { type Names, whenSentence, whoSentence } from '#web/rules/ruleWords.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import { label } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** A rule written from its parts; above them stands the sentence that they make. */
const props = defineProps<{
  rule: RuleJson | undefined
  known: ResponseOf<typeof ReadRules>
  names: Names
  reasons: readonly ReasonJson[]
  busy: boolean
}>()
const emit = defineEmits<{ keep: [rule: RuleJson]; close: [] }>()
type Who = RuleJson['who']['kind']
const WHO: readonly (readonly [Who, string])[] = [
  ['holder', 'the holder of each cost centre'],
  ['role', 'somebody with a role'],
  ['people', 'people by name'],
  ['chain', 'those above the requester'],
]
const before = props.rule
const form = reactive({
  ...(before
    ? structuredClone(before)
    : {
        id: crypto.randomUUID(),
        name: '',
        kinds: ['requisition' as const],
        conditions: [],
        measure: 'document' as const,
        from: '0',
        below: null,
        stage: 1,
        need: 'any' as const,
        scope: 'document' as const,
        hours: null,
        note: '',
      }),
}) as Omit<RuleJson, 'who'>
const who = reactive({
  kind: before?.who.kind ?? ('holder' as Who),
  role: before?.who.kind === 'role' ? before.who.role : 'financeController',
  inCentre: before?.who.kind === 'role' && before.who.inCentre,
  personIds: before?.who.kind === 'people' ? [...before.who.personIds] : [],
  levels: before?.who.kind === 'chain' ? before.who.levels : 3,
})
function asked(): RuleJson['who'] {
  switch (who.kind) {
    case 'holder':
      return { kind: 'holder' }
    case 'role':
      return { kind: 'role', role: who.role, inCentre: who.inCentre }
    case 'people':
      return { kind: 'people', personIds: who.personIds }
    case 'chain':
      return { kind: 'chain', levels: who.levels }
  }
}
const made = computed((): RuleJson => ({
  ...form,
  from: form.from || '0',
  below: form.below || null,
  who: asked(),
}))
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="rule ? 'Change the rule' : 'A new rule'"
    width="720px"
    top="5vh"
    @close="emit('close')"
  >
    <p class="sentence" data-test="rule-sentence" aria-live="polite">
      {{ whenSentence(made, known.currency, names) }} ask {{ whoSentence(made, names) }}.
    </p>
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="emit('keep', made)">
      <FormField label="Name" whole><ElInput v-model="form.name" maxlength="200" data-test="rule-name" /></FormField>
      <FormField label="Decides about" whole
        ><ElSelect v-model="form.kinds" multiple data-test="rule-kinds"
          ><ElOption
            v-for="kind in DECIDED_KINDS"
            :key="kind"
            :value="kind"
            :label="laterLabel('decided kind', kind)" /></ElSelect
      ></FormField>
      <div class="whole">
        <ConditionField
          v-for="(condition, index) in form.conditions"
          :key="index"
          v-model="form.conditions[index]!"
          :known="known"
          :mark="`condition-${index}`"
          @out="form.conditions.splice(index, 1)"
        />
        <ElButton
          link
          data-test="add-condition"
          @click="form.conditions.push({ fact: 'costCentre', not: false, values: [] })"
          >Add a condition</ElButton
        ><small v-if="form.conditions.length > 1" class="quiet"
          >All of them hold; those about lines on one and the same line.</small
        >
      </div>
      <FormField label="The amount is"
        ><ElSelect v-model="form.measure" data-test="rule-measure"
          ><ElOption v-for="one in MEASURES" :key="one" :value="one" :label="laterLabel('measure', one)" /></ElSelect
      ></FormField>
      <FormField :label="`From, ${known.currency}`"
        ><NumberField v-model="form.from" label="From" data-test="rule-from"
      /></FormField>
      <FormField :label="`Below, ${known.currency} (empty: no end)`"
        ><NumberField
          :model-value="form.below ?? ''"
          label="Below"
          data-test="rule-below"
          @update:model-value="form.below = $event || null"
      /></FormField>
      <FormField label="Asks"
        ><ElSelect v-model="who.kind" data-test="rule-who"
          ><ElOption v-for="[kind, text] in WHO" :key="kind" :value="kind" :label="text" /></ElSelect
      ></FormField>
      <FormField v-if="who.kind === 'role'" label="Role"
        ><ElSelect v-model="who.role" data-test="rule-role"
          ><ElOption v-for="role in known.roles" :key="role" :value="role" :label="label('role', role)" /></ElSelect
      ></FormField>
      <FormField v-if="who.kind === 'role'" label="Where"
        ><ElSelect v-model="who.inCentre"
          ><ElOption :value="false" label="whoever has it everywhere" /><ElOption
            :value="true"
            label="of the cost centre, else everywhere" /></ElSelect
      ></FormField>
      <FormField v-if="who.kind === 'people'" label="People" whole
        ><ElSelect v-model="who.personIds" multiple filterable default-first-option data-test="rule-people"
          ><ElOption
            v-for="person in known.people.filter(one => one.open || who.personIds.includes(one.id))"
            :key="person.id"
            :value="person.id"
            :label="person.open ? person.name : `${person.name}, account closed`" /></ElSelect
      ></FormField>
      <FormField v-if="who.kind === 'chain'" label="At most"
        ><ElSelect v-model="who.levels"
          ><ElOption v-for="level in MOST_LEVELS" :key="level" :value="level" :label="String(level)" /></ElSelect
      ></FormField>
      <FormField v-if="who.kind === 'role' || who.kind === 'people'" label="Of them"
        ><ElSelect v-model="form.need" data-test="rule-need"
          ><ElOption v-for="need in NEEDS" :key="need" :value="need" :label="laterLabel('rule need', need)" /></ElSelect
      ></FormField>
      <FormField label="What they decide"
        ><ElSelect v-model="form.scope" data-test="rule-scope"
          ><ElOption
            v-for="scope in SCOPES"
            :key="scope"
            :value="scope"
            :label="laterLabel('rule scope', scope)" /></ElSelect
      ></FormField>
      <FormField label="Stage"
        ><ElSelect v-model="form.stage" data-test="rule-stage"
          ><ElOption v-for="stage in MOST_STAGES" :key="stage" :value="stage" :label="String(stage)" /></ElSelect
      ></FormField>
      <FormField label="Within working hours" place="hours" help="Empty: it takes its time"
        ><NumberField
          :model-value="form.hours === null ? '' : String(form.hours)"
          label="Within working hours"
          width="100px"
          data-test="rule-hours"
          @update:model-value="form.hours = Number($event) > 0 ? Math.round(Number($event)) : null"
      /></FormField>
      <FormField label="Why there is this rule" whole
        ><ElInput v-model="form.note" type="textarea" :rows="2" maxlength="4000"
      /></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy || !form.name.trim()" data-test="keep-rule"
          >Keep it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.sentence {
  font: 500 15px/1.45 var(--serif);
  padding: 10px 14px;
  margin-bottom: 14px;
  background: var(--paper);
  border-left: 3px solid var(--tide);
}
.sentence::first-letter {
  text-transform: uppercase;
}
.whole {
  grid-column: 1 / -1;
  margin-bottom: 14px;
}
small {
  margin-left: 10px;
}
</style>
