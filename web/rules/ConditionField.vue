<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadRules, RuleJson } from '#contract/rules/endpoints.ts'
import { RULE_FACT_KEYS, type RuleFact, YES_NO_FACTS } from '#core/rules/facts.ts'
import { valueText } from '#web/rules/ruleWords.ts'
import { label } from '#web/shared/words.ts'

/** One condition of a rule: a fact, is or is not, any of its values. A range is typed with two dots: LS-200..LS-299. */
type Condition = RuleJson['conditions'][number]
const props = defineProps<{ known: ResponseOf<typeof ReadRules>; mark: string }>()
const condition = defineModel<Condition>({ required: true })
const emit = defineEmits<{ out: [] }>()
const yesNo = computed(() => YES_NO_FACTS.has(condition.value.fact))
const choices = computed((): readonly { value: string; label: string }[] => {
  const { fact } = condition.value
  if (fact === 'requester') return props.known.people.map(one => ({ value: one.id, label: one.name }))
  if (fact === 'requesterRole') return props.known.roles.map(role => ({ value: role, label: label('role', role) }))
  const names = { people: new Map<string, string>(), values: props.known.values }
  return (props.known.values[fact] ?? []).map(one => ({ value: one.value, label: valueText(fact, one.value, names) }))
})
const texts = computed(() =>
  condition.value.values.map(value => (typeof value === 'string' ? value : `${value.from}..${value.to}`)),
)
const setFact = (fact: RuleFact): void => {
  condition.value = { fact, not: false, values: YES_NO_FACTS.has(fact) ? ['yes'] : [] }
}
const setValues = (all: readonly string[]): void => {
  const values = all.map(text => {
    const [from = '', to] = text.split('..').map(one => one.trim())
    return to ? { from, to } : text
  })
  condition.value = { ...condition.value, values }
}
</script>

<template>
  <p class="condition" :data-test="mark">
    <ElSelect :model-value="condition.fact" aria-label="What it is about" class="fact" @update:model-value="setFact"
      ><ElOption v-for="fact in RULE_FACT_KEYS" :key="fact" :value="fact" :label="label('rule fact', fact)" /></ElSelect
    ><ElSelect v-model="condition.not" aria-label="Is or is not" class="not"
      ><ElOption :value="false" :label="yesNo ? 'holds' : 'is one of'" /><ElOption
        :value="true"
        :label="yesNo ? 'does not hold' : 'is none of'" /></ElSelect
    ><ElSelect
      v-if="!yesNo"
      :model-value="texts"
      multiple
      filterable
      allow-create
      default-first-option
      placeholder="choose, or type a code or from..to"
      aria-label="Values"
      class="values"
      :data-test="`${mark}-values`"
      @update:model-value="setValues"
      ><ElOption v-for="one in choices" :key="one.value" :value="one.value" :label="one.label" /></ElSelect
    ><ElButton link @click="emit('out')">take out</ElButton>
  </p>
</template>

<style scoped>
.condition {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 6px;
}
.fact {
  width: 170px;
  flex: none;
}
.not {
  width: 110px;
  flex: none;
}
.values {
  flex: 1;
}
@media (max-width: 700px) {
  .condition {
    flex-wrap: wrap;
  }
}
</style>
