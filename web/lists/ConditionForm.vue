<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, watch } from 'vue'
import { type ColumnType, type Condition, type Operator, OPERATORS, whyNotAsk } from '#core/lists/conditions.ts'
import { askedName, valueWords } from '#web/lists/conditionWords.ts'
import NumberField from '#web/shared/NumberField.vue'
import { label } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'

/** Asks a list about one of its columns, in the ways that the column has. */
const props = defineProps<{
  asks: readonly { key: string; type: string; choices: boolean }[]
  options: ReadonlyMap<string, readonly { value: string; label: string }[]>
  /** Whether there is a condition already, beside which this one may stand. */
  beside: boolean
}>()
const emit = defineEmits<{ ask: [condition: Condition, how: 'and' | 'or'] }>()

const form = reactive({ column: '', operator: '' as Operator, some: [] as string[], from: '', to: '' })
const type = computed(() => props.asks.find(one => one.key === form.column)?.type as ColumnType | undefined)
const operators = computed<readonly Operator[]>(() => (type.value ? OPERATORS[type.value] : []))
const choices = computed(() => props.options.get(form.column) ?? [])
watch(
  () => form.column,
  () => {
    form.operator = operators.value[0] ?? ('' as Operator)
    clear()
  },
)
watch(() => form.operator, clear)
function clear(): void {
  Object.assign(form, { some: [], from: '', to: '' })
}

const BARE = new Set<Operator>(['empty', 'filled', 'thisMonth', 'me', 'myTeam'])
const condition = computed<Condition>(() => ({
  column: form.column,
  operator: form.operator,
  values: BARE.has(form.operator)
    ? []
    : form.operator === 'between'
      ? [form.from, form.to]
      : form.operator === 'last' || form.operator === 'next'
        ? [form.from]
        : choices.value.length > 0
          ? form.some
          : form.from
              .split(',')
              .map(value => value.trim())
              .filter(Boolean),
}))
const ready = computed(() => type.value !== undefined && whyNotAsk(condition.value, type.value).length === 0)
function ask(how: 'and' | 'or'): void {
  if (!ready.value) return
  emit('ask', condition.value, how)
  form.column = ''
}
</script>

<template>
  <form class="condition-form" data-test="condition-form" @submit.prevent="ask('and')">
    <FormField label="What"
      ><ElSelect
        v-model="form.column"
        filterable
        default-first-option
        :teleported="false"
        placeholder="a column"
        data-test="condition-column"
        ><ElOption v-for="one in asks" :key="one.key" :value="one.key" :label="askedName(one.key)" /></ElSelect
    ></FormField>
    <FormField label="How" v-if="type"
      ><ElSelect v-model="form.operator" :teleported="false" data-test="condition-operator"
        ><ElOption v-for="one in operators" :key="one" :value="one" :label="label('operator', one)" /></ElSelect
    ></FormField>
    <div v-if="form.operator === 'between' && type === 'date'" class="span">
      <FormField label="From"><ElInput v-model="form.from" type="date" /></FormField>
      <FormField label="To"><ElInput v-model="form.to" type="date" /></FormField>
    </div>
    <div v-else-if="form.operator === 'between'" class="span">
      <FormField label="From"><NumberField v-model="form.from" label="From" data-test="condition-from" /></FormField>
      <FormField label="To"><NumberField v-model="form.to" label="To" data-test="condition-to" /></FormField>
    </div>
    <FormField label="Days" v-else-if="form.operator === 'last' || form.operator === 'next'"
      ><NumberField v-model="form.from" label="Days" data-test="condition-days"
    /></FormField>
    <FormField label="Any of" v-else-if="type && !BARE.has(form.operator) && choices.length"
      ><ElSelect
        v-model="form.some"
        multiple
        filterable
        default-first-option
        :teleported="false"
        placeholder="choose"
        data-test="condition-values"
        ><ElOption
          v-for="one in choices"
          :key="one.value"
          :value="one.value"
          :label="valueWords(one.value, choices)" /></ElSelect
    ></FormField>
    <FormField label="Any of" v-else-if="type && !BARE.has(form.operator)"
      ><ElInput v-model="form.from" placeholder="words; several parted by commas" data-test="condition-values"
    /></FormField>
    <p class="bar">
      <ElButton type="primary" size="small" native-type="submit" :disabled="!ready" data-test="condition-and">{{
        beside ? 'And this' : 'Only these'
      }}</ElButton><ElButton v-if="beside" size="small" :disabled="!ready" data-test="condition-or" @click="ask('or')"
        >Or, beside the last</ElButton
      >
    </p>
  </form>
</template>

<style scoped>
.condition-form {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}
.span {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px;
}
</style>
