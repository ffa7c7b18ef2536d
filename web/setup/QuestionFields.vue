<script setup lang="ts">
import { ElCheckbox, ElInput, ElOption, ElSelect } from 'element-plus'
import { QUESTION_KINDS, RECORD_FIELDS } from '#core/source/questionnaire.ts'
import { type AskedQuestion, choicesOf } from '#web/setup/questions.ts'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'

/** What one question asks, how it is answered, and when it is asked at all. */
const props = defineProps<{
  /** Questions before it, on whose answers it may hang. */
  earlier: readonly AskedQuestion[]
  /** Whether answers fill the record of a supplier, and may be certificates. */
  ofSupplier?: boolean
  mark: string
}>()
const question = defineModel<AskedQuestion>({ required: true })
const kinds = QUESTION_KINDS.filter(kind => props.ofSupplier || kind !== 'certificate')
const answersOf = (key: string): string[] => choicesOf(props.earlier.find(one => one.key === key))
const words = (text: string): string[] =>
  text
    .split(',')
    .map(part => part.trim())
    .filter(Boolean)
</script>

<template>
  <div class="form-grid">
    <FormField label="Question"><ElInput v-model="question.label" :data-test="mark" /></FormField
    ><FormField label="Answer"
      ><ElSelect v-model="question.kind"
        ><ElOption
          v-for="kind in kinds"
          :key="kind"
          :value="kind"
          :label="laterLabel('question', kind)" /></ElSelect></FormField
    ><FormField label="Choices, with commas" v-if="question.kind === 'choice' || question.kind === 'choices'"
      ><ElInput
        :model-value="question.choices.join(', ')"
        @change="question.choices = words(String($event))" /></FormField
    ><FormField label="Help"><ElInput v-model="question.help" /></FormField
    ><FormField label="Fills" v-if="ofSupplier"
      ><ElSelect
        v-model="question.fills"
        clearable
        :value-on-clear="null"
        filterable
        default-first-option
        placeholder="nothing"
        ><ElOption
          v-for="field in RECORD_FIELDS"
          :key="field"
          :value="field"
          :label="laterLabel('record field', field)" /></ElSelect></FormField
    ><FormField label="Asked when"
      ><ElSelect
        :model-value="question.when?.key ?? ''"
        clearable
        :value-on-clear="''"
        placeholder="always"
        @update:model-value="question.when = $event ? { key: $event, equals: answersOf($event)[0] ?? '' } : null"
        ><ElOption
          v-for="other in earlier"
          :key="other.key"
          :value="other.key"
          :label="other.label" /></ElSelect></FormField
    ><FormField label="is" v-if="question.when"
      ><ElSelect v-model="question.when.equals" filterable default-first-option allow-create
        ><ElOption
          v-for="choice in answersOf(question.when.key)"
          :key="choice"
          :value="choice"
          :label="choice" /></ElSelect></FormField
    ><ElCheckbox v-model="question.required" label="an answer is needed" />
  </div>
</template>
