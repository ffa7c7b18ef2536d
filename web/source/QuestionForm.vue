<script setup lang="ts">
import { ElCheckbox, ElDatePicker, ElInput, ElOption, ElRadio, ElRadioGroup, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'
import {
  type Answer,
  type Answers,
  type CertificateAnswer,
  isAsked,
  type Question,
  questionsOf,
  type Section,
} from '#core/source/questionnaire.ts'
import FileField from '#web/shared/FileField.vue'
import { words } from '#web/shared/words.ts'
import { t } from '#web/shared/language.ts'
import FormField from '#web/shared/FormField.vue'

/** A questionnaire as whoever answers it sees it. Questions that hang on another answer come and go with it. */
const props = defineProps<{
  sections: readonly Section[]
  reasons?: readonly ReasonJson[]
  asks?: readonly { key: string; question: string; by: string; answered: boolean }[]
  readonly?: boolean
  sendFile?: (file: File) => Promise<{ id: string; name: string }>
}>()
const answers = defineModel<Answers>({ required: true })
const all = computed(() => questionsOf(props.sections))
const sending = ref('')
const faults = ref<Record<string, string>>({})
const shown = (section: Section): Question[] =>
  section.questions.filter(question => isAsked(question, all.value, answers.value))
const at = (key: string): readonly ReasonJson[] =>
  props.reasons?.filter(reason => reason.place === `answers.${key}`) ?? []
const open = (key: string): readonly { question: string; by: string }[] =>
  props.asks?.filter(ask => ask.key === key && !ask.answered) ?? []

const set = (key: string, answer: Answer): void => {
  answers.value = { ...answers.value, [key]: answer }
}
const textOf = (key: string): string => {
  const answer = answers.value[key]
  return typeof answer === 'string' ? answer : ''
}
const listOf = (key: string): string[] => {
  const answer = answers.value[key]
  return Array.isArray(answer) ? [...(answer as string[])] : []
}
const EMPTY: CertificateAnswer = { issuer: '', number: '', validFrom: '', validTo: '', fileId: '', fileName: '' }
const certificateOf = (key: string): CertificateAnswer => {
  const answer = answers.value[key]
  return answer !== undefined && typeof answer === 'object' && !Array.isArray(answer) && 'issuer' in answer
    ? answer
    : EMPTY
}
const fileName = (key: string): string => {
  const answer = answers.value[key]
  return answer !== undefined && typeof answer === 'object' && !Array.isArray(answer) && 'fileName' in answer
    ? answer.fileName
    : ''
}
function toggle(key: string, choice: string, on: boolean): void {
  set(key, on ? [...listOf(key), choice] : listOf(key).filter(one => one !== choice))
}
async function send(question: Question, [file]: readonly File[]): Promise<void> {
  if (!file || !props.sendFile) return
  sending.value = question.key
  faults.value = { ...faults.value, [question.key]: '' }
  try {
    const kept = await props.sendFile(file)
    set(
      question.key,
      question.kind === 'certificate'
        ? { ...certificateOf(question.key), fileId: kept.id, fileName: kept.name }
        : { fileId: kept.id, fileName: kept.name },
    )
  } catch (error) {
    const reasons = (error as { reasons?: readonly ReasonJson[] }).reasons
    faults.value = {
      ...faults.value,
      [question.key]: reasons?.[0] ? words(reasons[0]) : t('The file could not be sent. Try again.'),
    }
  } finally {
    sending.value = ''
  }
}
</script>

<template>
  <fieldset v-for="section in sections" :key="section.title" class="section-of" :disabled="readonly">
    <legend>{{ section.title }}</legend>
    <div
      v-for="one in shown(section)"
      :key="one.key"
      class="question"
      :class="{ faulty: at(one.key).length }"
      :data-place="`answers.${one.key}`"
      :data-test="`q-${one.key}`"
    >
      <p class="label" :id="`label-${one.key}`">
        {{ one.label }}<span v-if="!one.required" class="quiet"> {{ t('(if you like)') }}</span>
      </p>
      <p v-if="one.help" class="quiet help">{{ one.help }}</p>
      <p v-for="ask in open(one.key)" :key="ask.question" class="reasons check">
        {{ t('{name} asks: “{question}”', { name: ask.by, question: ask.question }) }}
      </p>
      <ElRadioGroup
        v-if="one.kind === 'yesNo'"
        :model-value="textOf(one.key)"
        :aria-labelledby="`label-${one.key}`"
        @update:model-value="set(one.key, String($event))"
        ><ElRadio value="yes">{{ t('yes') }}</ElRadio
        ><ElRadio value="no">{{ t('no') }}</ElRadio></ElRadioGroup
      >
      <ElSelect
        v-else-if="one.kind === 'choice'"
        :model-value="textOf(one.key)"
        :aria-label="one.label"
        :placeholder="t('Choose')"
        @update:model-value="set(one.key, $event)"
        ><ElOption v-for="choice in one.choices" :key="choice" :value="choice" :label="choice"
      /></ElSelect>
      <div v-else-if="one.kind === 'choices'" class="choices">
        <ElCheckbox
          v-for="choice in one.choices"
          :key="choice"
          :model-value="listOf(one.key).includes(choice)"
          :label="choice"
          @change="toggle(one.key, choice, $event as boolean)"
        />
      </div>
      <ElDatePicker
        v-else-if="one.kind === 'date'"
        :model-value="textOf(one.key) || undefined"
        value-format="YYYY-MM-DD"
        format="D MMM YYYY"
        :aria-label="one.label"
        @update:model-value="set(one.key, $event ?? '')"
      />
      <div v-else-if="one.kind === 'certificate'" class="form-grid">
        <FormField :label="t('Issued by')"
          ><ElInput
            :model-value="certificateOf(one.key).issuer"
            @update:model-value="set(one.key, { ...certificateOf(one.key), issuer: $event })" /></FormField
        ><FormField :label="t('Number')"
          ><ElInput
            :model-value="certificateOf(one.key).number"
            @update:model-value="set(one.key, { ...certificateOf(one.key), number: $event })" /></FormField
        ><FormField :label="t('Holds from')"
          ><ElDatePicker
            :model-value="certificateOf(one.key).validFrom || undefined"
            value-format="YYYY-MM-DD"
            format="D MMM YYYY"
            @update:model-value="set(one.key, { ...certificateOf(one.key), validFrom: $event ?? '' })" /></FormField
        ><FormField :label="t('Last day, if any')"
          ><ElDatePicker
            :model-value="certificateOf(one.key).validTo || undefined"
            value-format="YYYY-MM-DD"
            format="D MMM YYYY"
            @update:model-value="set(one.key, { ...certificateOf(one.key), validTo: $event ?? '' })"
        /></FormField>
      </div>
      <ElInput
        v-else-if="one.kind !== 'file'"
        :model-value="textOf(one.key)"
        :type="one.kind === 'longText' ? 'textarea' : 'text'"
        :rows="3"
        :maxlength="one.kind === 'country' ? 2 : 4000"
        :inputmode="one.kind === 'number' ? 'decimal' : one.kind === 'mail' ? 'email' : 'text'"
        :aria-label="one.label"
        @update:model-value="set(one.key, one.kind === 'country' ? $event.toUpperCase() : $event)"
      />
      <p v-if="one.kind === 'file' || one.kind === 'certificate'" class="file">
        <FileField
          v-if="sendFile && !readonly"
          :label="t('File for {question}', { question: one.label })"
          @choose="send(one, $event)"
        /><span class="quiet">{{ sending === one.key ? t('sending …') : fileName(one.key) }}</span
        ><span v-if="faults[one.key]" class="field-fault" role="alert">{{ faults[one.key] }}</span>
      </p>
      <p v-for="reason in at(one.key)" :key="reason.code" class="field-fault" role="alert">{{ words(reason) }}</p>
    </div>
  </fieldset>
</template>

<style scoped>
.section-of {
  border: 0;
  padding: 0;
  margin: 0 0 26px;
  min-width: 0;
}
legend {
  font: 600 17px var(--serif);
  padding: 0;
  margin-bottom: 4px;
}
.question {
  padding: 10px 0;
  max-width: 620px;
}
.question.faulty {
  border-left: 3px solid var(--madder);
  padding-left: 12px;
}
.label {
  font-weight: 600;
  margin-bottom: 3px;
}
.help {
  margin-bottom: 4px;
}
.choices {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(240px, 1fr));
}
.file {
  margin-top: 6px;
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
  align-items: center;
}
</style>
