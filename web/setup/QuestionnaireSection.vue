<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { onMounted, reactive, ref, shallowRef } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import type { ReasonJson } from '#contract/fields.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import {
  ListCategories,
  ListQuestionnaires,
  PublishQuestionnaire,
  SaveQuestionnaire,
} from '#contract/source/onboarding.ts'
import type { Answers, Section } from '#core/source/questionnaire.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import QuestionFields from '#web/setup/QuestionFields.vue'
import { before, newQuestion } from '#web/setup/questions.ts'
import VersionTable from '#web/setup/VersionTable.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import { useAction } from '#web/shared/useAction.ts'
import QuestionForm from '#web/source/QuestionForm.vue'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'

/** What suppliers are asked: versions, drafts put in order by dragging, and the page as the supplier sees it. */
type Questionnaire = ResponseOf<typeof ListQuestionnaires>['questionnaires'][number]
type Draft = {
  code: string
  name: string
  version: number
  categories: string[]
  kinds: ('company' | 'person')[]
  sections: Questionnaire['sections']
}
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const all = shallowRef<Questionnaire[]>([])
const categories = shallowRef<string[]>([])
const draft = reactive<Draft & { open: boolean; id: string }>({
  open: false,
  id: '',
  code: '',
  name: '',
  version: 0,
  categories: [],
  kinds: ['company'],
  sections: [],
})
const found = ref<ReasonJson[]>([])
const preview = ref(false)
const tried = ref<Answers>({})
const opened = ref('')
async function load(): Promise<void> {
  all.value = (await api(ListQuestionnaires)).questionnaires
  categories.value = (await api(ListCategories)).categories.map(one => one.name)
}
onMounted(load)
const versions = (code: string): Questionnaire[] => all.value.filter(one => one.code === code)

function edit(one?: Questionnaire): void {
  clear()
  found.value = []
  preview.value = false
  tried.value = {}
  const from = one ? (versions(one.code).find(other => other.state === 'draft') ?? one) : undefined
  Object.assign(
    draft,
    JSON.parse(
      JSON.stringify({
        open: true,
        id: from?.state === 'draft' ? from.id : '',
        code: from?.code ?? '',
        name: from?.name ?? '',
        version: from?.state === 'draft' ? from.version : 0,
        categories: from?.categories ?? [],
        kinds: from?.kinds ?? ['company'],
        sections: from?.sections ?? [{ title: 'About you', questions: [] }],
      }),
    ) as object,
  )
}
let counter = 0
const keyOf = (text: string): string =>
  `${
    text
      .toLowerCase()
      .normalize('NFKD')
      .replace(/[^a-z0-9 ]/g, '')
      .trim()
      .split(/\s+/)
      .slice(0, 3)
      .map((word, index) => (index ? word.charAt(0).toUpperCase() + word.slice(1) : word))
      .join('')
      .replace(/^[^a-z]+/, '') || 'question'
  }${++counter}${Date.now() % 10_000}`
const add = (section: Draft['sections'][number]): void => {
  const key = keyOf('question')
  section.questions.push(newQuestion(key))
  opened.value = key
}
async function save(): Promise<boolean> {
  const { open: _open, id: _id, ...body } = draft
  const done = await run(() =>
    api(SaveQuestionnaire, { body: { ...body, code: body.code || keyOf(body.name).toLowerCase().slice(0, 38) } }),
  )
  if (!done) return false
  draft.id = done.id
  draft.version = done.version
  found.value = done.reasons
  await load()
  draft.code = all.value.find(one => one.id === done.id)?.code ?? draft.code
  return true
}
async function publish(): Promise<void> {
  if (!(await save()) || found.value.length) return
  if (await run(() => api(PublishQuestionnaire, { params: { id: draft.id }, body: { version: draft.version } }))) {
    draft.open = false
    await load()
  }
}
const faults = (key: string): ReasonJson[] => found.value.filter(one => one.place === `questions.${key}`)
</script>

<template>
  <section class="section" data-test="questionnaires">
    <h1>What suppliers are asked</h1>
    <p class="quiet">
      A change makes a draft of the next version. Onboardings that run keep the version they were given.
    </p>
    <VersionTable :all="all" what="Questionnaire" about="For" mark="edit" @edit="edit"
      ><template #about="{ one }"
        >{{ one.kinds.map(kind => (kind === 'person' ? 'persons' : 'companies')).join(', ')
        }}<small v-if="one.categories.length">{{ one.categories.join(', ') }}</small></template
      ></VersionTable
    >
    <p v-if="session.may('setup.write')" class="bar">
      <ElButton data-test="new-questionnaire" @click="edit()">A new questionnaire</ElButton>
    </p>
    <ElDialog
      v-model="draft.open"
      :title="draft.code ? `Draft of “${draft.name}”` : 'A new questionnaire'"
      width="860px"
      top="4vh"
    >
      <EntryForm :reasons="[...found, ...reasons]" :busy="busy" @submit="save">
        <p class="bar">
          <ElButton link :class="{ now: !preview }" @click="preview = false">Questions</ElButton
          ><ElButton
            link
            :class="{ now: preview }"
            data-test="preview"
            @click="
              () => {
                preview = true
                tried = {}
              }
            "
          >
            As the supplier sees it
          </ElButton>
        </p>
        <div v-if="preview" class="preview">
          <QuestionForm v-model="tried" :sections="draft.sections as unknown as Section[]" />
        </div>
        <div v-else class="editor">
          <div class="form-grid">
            <FormField label="Name"><ElInput v-model="draft.name" data-test="questionnaire-name" /></FormField
            ><FormField label="For"
              ><ElSelect v-model="draft.kinds" multiple
                ><ElOption value="company" label="companies" /><ElOption
                  value="person"
                  label="persons" /></ElSelect></FormField
            ><FormField label="Only those who sell (none: all)"
              ><ElSelect v-model="draft.categories" multiple filterable default-first-option
                ><ElOption v-for="one in categories" :key="one" :value="one" :label="one" /></ElSelect
            ></FormField>
          </div>
          <VueDraggable v-model="draft.sections" handle=".grip-section" :animation="120">
            <div v-for="(section, index) in draft.sections" :key="index" class="part">
              <p class="bar">
                <span class="grip-section grip" title="Drag to order">⠿</span
                ><ElInput v-model="section.title" aria-label="Title of the section" style="width: 320px" /><ElButton
                  link
                  @click="draft.sections.splice(index, 1)"
                >
                  take out
                </ElButton>
              </p>
              <VueDraggable
                v-model="section.questions"
                group="questions"
                handle=".grip"
                :animation="120"
                class="questions"
              >
                <div
                  v-for="(one, at) in section.questions"
                  :key="one.key"
                  class="question"
                  :class="{ faulty: faults(one.key).length }"
                >
                  <p class="bar">
                    <span class="grip" title="Drag to order">⠿</span
                    ><ElButton link class="name" @click="opened = opened === one.key ? '' : one.key">
                      {{ one.label || 'a question without text' }}</ElButton
                    ><span class="quiet"
                      >{{ laterLabel('question', one.kind) }}{{ one.required ? '' : ', if they like'
                      }}{{ one.when ? ', sometimes' : ''
                      }}{{ one.fills ? `, fills ${laterLabel('record field', one.fills)}` : '' }}</span
                    ><ElButton link class="out" @click="section.questions.splice(at, 1)">take out</ElButton>
                  </p>
                  <p v-for="fault in faults(one.key)" :key="fault.code" class="field-fault">
                    {{ fault.details.question }}: look at this question.
                  </p>
                  <QuestionFields
                    v-if="opened === one.key"
                    v-model="section.questions[at]!"
                    class="detail"
                    of-supplier
                    :earlier="before(draft.sections, one.key)"
                    mark="question-label"
                  />
                </div> </VueDraggable
              ><ElButton link data-test="add-question" @click="add(section)">Add a question</ElButton>
            </div></VueDraggable
          >
          <ElButton link @click="draft.sections.push({ title: 'Another section', questions: [] })">
            Add a section
          </ElButton>
        </div>
        <template #acts
          ><ElButton :disabled="busy || !draft.name" data-test="save-questionnaire" @click="save"
            >Keep the draft</ElButton
          ><ElButton type="primary" :disabled="busy || !draft.name" data-test="publish" @click="publish"
            >Put it in force</ElButton
          ><ElButton @click="draft.open = false">Leave it</ElButton></template
        ></EntryForm
      ></ElDialog
    >
  </section>
</template>

<style scoped>
.bar {
  margin: 8px 0;
}
.now {
  color: var(--ink);
  font-weight: 600;
}
.editor,
.preview {
  max-height: 62vh;
  overflow: auto;
  padding-right: 6px;
}
.part {
  border-top: 1px solid var(--rule);
  padding: 6px 0 12px;
  margin-top: 10px;
}
.questions {
  min-height: 12px;
  padding-left: 20px;
}
.question {
  border-top: 1px solid var(--rule-light);
}
.question .bar {
  margin: 4px 0;
}
.question.faulty {
  border-left: 3px solid var(--madder);
  padding-left: 8px;
}
.grip {
  cursor: grab;
  color: var(--ink-quiet);
}
.name {
  color: var(--ink);
  text-align: left;
}
.out {
  margin-left: auto;
}
.detail {
  padding: 4px 0 12px 24px;
}
small {
  display: block;
  color: var(--ink-quiet);
}
</style>
