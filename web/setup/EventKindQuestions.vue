<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElOption, ElSelect } from 'element-plus'
import type { BodyOf } from '#contract/endpoint.ts'
import type { SaveEventKind } from '#contract/source/eventKinds.ts'
import { ASKED_KINDS } from '#core/source/eventKind.ts'
import { newKey } from '#web/setup/newKey.ts'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import NumberField from '#web/shared/NumberField.vue'

/** Questions that suppliers answer, how they are scored and what nobody may miss. */
type Settings = BodyOf<typeof SaveEventKind>['settings']
type Question = Settings['sections'][number]['questions'][number]
const settings = defineModel<Settings>({ required: true })
const addSection = (): void => void settings.value.sections.push({ title: '', weight: '1', questions: [] })
const add = (section: Settings['sections'][number]): void =>
  void section.questions.push({
    key: newKey(),
    label: '',
    kind: 'yesNo',
    choices: [],
    must: '',
    required: true,
    scoredBy: 'nobody',
    points: {},
    most: '10',
    weight: '1',
  })
const answersOf = (one: Question): readonly string[] =>
  one.kind === 'yesNo' ? ['yes', 'no'] : one.kind === 'choice' ? one.choices : []
/** Choices are written one a line. */
function choose(one: Question, text: string): void {
  one.choices = text.split('\n').map(line => line.trim()).filter(Boolean) // prettier-ignore
}
</script>

<template>
  <h3>Questions</h3>
  <section v-for="(section, at) in settings.sections" :key="at" class="block">
    <div class="fields">
      <FormField label="Section"><ElInput v-model="section.title" /></FormField>
      <FormField label="Weighs"><NumberField v-model="section.weight" label="Weighs" width="80px" /></FormField>
      <ElButton link @click="settings.sections.splice(at, 1)">take the section out</ElButton>
    </div>
    <div
      v-for="(one, index) in section.questions"
      :key="one.key"
      class="question"
      :data-place="`sections.${at}.questions.${index}`"
    >
      <FormField label="Question" whole
        ><ElInput v-model="one.label" :data-test="`question-${at}-${index}`"
      /></FormField>
      <div class="fields">
        <FormField label="Answer"
          ><ElSelect v-model="one.kind" aria-label="Answer"
            ><ElOption
              v-for="kind in ASKED_KINDS"
              :key="kind"
              :value="kind"
              :label="laterLabel('asked kind', kind)" /></ElSelect></FormField
        ><FormField v-if="one.kind === 'choice'" label="Answers, one a line"
          ><ElInput
            :model-value="one.choices.join('\n')"
            type="textarea"
            :rows="3"
            @update:model-value="choose(one, $event)" /></FormField
        ><FormField label="Scored by"
          ><ElSelect v-model="one.scoredBy" aria-label="Scored by"
            ><ElOption value="nobody" label="nobody" /><ElOption value="rule" label="a rule" /><ElOption
              value="people"
              label="people" /></ElSelect></FormField
        ><template v-if="one.scoredBy !== 'nobody'"
          ><FormField label="Points at most"
            ><NumberField v-model="one.most" label="Points at most" width="80px" /></FormField
          ><FormField label="Weighs"><NumberField v-model="one.weight" label="Weighs" width="80px" /></FormField
        ></template>
        <template v-if="one.scoredBy === 'rule'"
          ><FormField v-for="answer in answersOf(one)" :key="answer" :label="`Points for “${answer}”`"
            ><NumberField
              :model-value="one.points[answer] ?? ''"
              :label="`Points for ${answer}`"
              width="80px"
              @update:model-value="one.points[answer] = $event" /></FormField
        ></template>
        <FormField v-if="answersOf(one).length" label="Nothing counts unless"
          ><ElSelect
            v-model="one.must"
            clearable
            :value-on-clear="''"
            placeholder="any answer counts"
            aria-label="Nothing counts unless"
            ><ElOption v-for="answer in answersOf(one)" :key="answer" :value="answer" :label="answer" /></ElSelect
        ></FormField>
        <ElCheckbox v-model="one.required" label="has to be answered" />
        <ElButton link @click="section.questions.splice(index, 1)">take out</ElButton>
      </div>
    </div>
    <p class="bar"><ElButton link :data-test="`add-question-${at}`" @click="add(section)">Add a question</ElButton></p>
  </section>
  <p class="bar"><ElButton link data-test="add-section" @click="addSection">Add a section</ElButton></p>
</template>

<style scoped>
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  align-items: center;
}
.fields :deep(.el-select) {
  min-width: 170px;
}
.question {
  padding: 8px 0 8px 14px;
  border-left: 2px solid var(--rule);
  margin: 6px 0;
}
h3 {
  margin: 14px 0 4px;
}
</style>
