<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, reactive, ref, shallowRef } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'
import { type FormJson, ListForms, PublishForm, SaveForm } from '#contract/request/forms.ts'
import { ListCategories } from '#contract/source/onboarding.ts'
import { FORM_FILLS } from '#core/request/forms.ts'
import { KINDS, LINE_KINDS } from '#core/request/kinds.ts'
import { ROUTES } from '#core/request/routes.ts'
import type { Answers, Section } from '#core/source/questionnaire.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import QuestionFields from '#web/setup/QuestionFields.vue'
import { before, newQuestion } from '#web/setup/questions.ts'
import VersionTable from '#web/setup/VersionTable.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import QuestionForm from '#web/source/QuestionForm.vue'
import FormField from '#web/shared/FormField.vue'

/** Forms for requests: versions, what they ask, what the answers fill, and the page as a requester sees it. */
type Draft = Pick<FormJson, 'code' | 'name' | 'help' | 'category' | 'line' | 'sections' | 'fills' | 'version'>
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const all = shallowRef<readonly FormJson[]>([])
const categories = shallowRef<readonly string[]>([])
const found = ref<readonly ReasonJson[]>([])
const preview = ref(false)
const tried = ref<Answers>({})
const state = reactive({ open: false, id: '' })
const draft = ref<Draft>()
async function load(): Promise<void> {
  all.value = (await api(ListForms, { query: { all: 'yes' } })).forms
  categories.value = (await api(ListCategories)).categories.map(one => one.name)
}
onMounted(load)
const versions = (code: string): readonly FormJson[] => all.value.filter(one => one.code === code)
const questions = computed(() => draft.value?.sections.flatMap(section => section.questions) ?? [])
const EMPTY: Draft = {
  code: '',
  name: '',
  help: '',
  category: '',
  version: 0,
  line: { kind: 'fixedPriceWork', description: '', unit: 'E48', price: '0', currency: 'EUR', routes: ['orderNow'] },
  sections: [{ title: 'What is needed', questions: [] }],
  fills: {},
}
function edit(one?: FormJson): void {
  clear()
  found.value = []
  preview.value = false
  const from = one ? (versions(one.code).find(other => other.state === 'draft') ?? one) : undefined
  state.id = from?.state === 'draft' ? from.id : ''
  const { code, name, help, category, line, sections, fills } = from ?? EMPTY
  draft.value = JSON.parse(
    JSON.stringify({
      code,
      name,
      help,
      category,
      line,
      sections,
      fills,
      version: from?.state === 'draft' ? from.version : 0,
    }),
  ) as Draft
  state.open = true
}
const codeOf = (name: string): string =>
  name
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z0-9]/g, '')
    .replace(/^[^a-z]+/, '')
    .slice(0, 38) || 'form'
const keyOf = (): string => {
  const taken = new Set(questions.value.map(one => one.key))
  let number = questions.value.length + 1
  while (taken.has(`question${number}`)) number++
  return `question${number}`
}
const add = (at: number): void => void draft.value!.sections[at]!.questions.push(newQuestion(keyOf()))
async function save(): Promise<boolean> {
  const body = draft.value!
  const done = await run(() =>
    api(SaveForm, {
      body: {
        ...body,
        code: body.code || codeOf(body.name),
        fills: Object.fromEntries(Object.entries(body.fills).filter(([, key]) => key)),
      },
    }),
  )
  if (!done) return false
  state.id = done.id
  draft.value = { ...body, code: body.code || codeOf(body.name), version: done.version }
  found.value = done.reasons
  await load()
  return true
}
async function publish(): Promise<void> {
  if (!(await save()) || found.value.length) return
  if (await run(() => api(PublishForm, { params: { id: state.id }, body: { version: draft.value!.version } }))) {
    state.open = false
    await load()
  }
}
</script>

<template>
  <section class="section" data-test="forms">
    <h1>Request forms</h1>
    <p class="quiet">
      A filled form is one request. A change makes a draft of the next version; requests keep the version they were made
      with.
    </p>
    <VersionTable :all="all" what="Form" about="Makes" mark="edit-form" @edit="edit"
      ><template #about="{ one }"
        >{{ label('kind', one.line.kind) }}<small v-if="one.category">{{ one.category }}</small></template
      ></VersionTable
    >
    <p v-if="session.may('setup.write')" class="bar">
      <ElButton data-test="new-form" @click="edit()">A new form</ElButton>
    </p>
    <ElDialog
      v-model="state.open"
      :title="draft?.code ? `Draft of “${draft.name}”` : 'A new form'"
      width="860px"
      top="4vh"
      ><template v-if="draft"
        ><EntryForm :reasons="[...found, ...reasons]" :busy="busy" @submit="save">
          <p class="bar">
            <ElButton link :class="{ now: !preview }" @click="preview = false">Questions</ElButton
            ><ElButton
              link
              :class="{ now: preview }"
              data-test="form-preview"
              @click="
                () => {
                  preview = true
                  tried = {}
                }
              "
            >
              As a requester sees it
            </ElButton>
          </p>
          <div v-if="preview" class="editor">
            <h1>{{ draft.name }}</h1>
            <p>{{ draft.help }}</p>
            <QuestionForm v-model="tried" :sections="draft.sections as unknown as Section[]" />
          </div>
          <div v-else class="editor">
            <div class="form-grid">
              <FormField label="Name" place="name"><ElInput v-model="draft.name" data-test="form-name" /></FormField
              ><FormField label="Category"
                ><ElSelect v-model="draft.category" filterable default-first-option clearable :value-on-clear="''"
                  ><ElOption v-for="one in categories" :key="one" :value="one" :label="one" /></ElSelect></FormField
              ><FormField label="Makes a line of"
                ><ElSelect v-model="draft.line.kind" @change="draft!.line.unit = KINDS[draft!.line.kind].unit"
                  ><ElOption
                    v-for="kind in LINE_KINDS"
                    :key="kind"
                    :value="kind"
                    :label="label('kind', kind)" /></ElSelect></FormField
              ><FormField label="Its text"><ElInput v-model="draft.line.description" /></FormField
              ><FormField label="Usual price"><ElInput v-model="draft.line.price" /></FormField
              ><FormField label="May happen next" place="line.routes"
                ><ElSelect v-model="draft.line.routes" multiple collapse-tags
                  ><ElOption
                    v-for="route in ROUTES"
                    :key="route"
                    :value="route"
                    :label="label('route', route)" /></ElSelect
              ></FormField>
            </div>
            <FormField label="Help, above the questions" class="gap"
              ><ElInput v-model="draft.help" type="textarea" :rows="2"
            /></FormField>
            <div v-for="(section, at) in draft.sections" :key="at" class="part">
              <p class="bar">
                <ElInput v-model="section.title" aria-label="Title of the section" style="width: 320px" /><ElButton
                  link
                  v-if="draft.sections.length > 1"
                  @click="draft.sections.splice(at, 1)"
                >
                  take out
                </ElButton>
              </p>
              <div v-for="(one, place) in section.questions" :key="one.key" class="question">
                <QuestionFields
                  v-model="section.questions[place]!"
                  :earlier="before(draft.sections, one.key)"
                  mark="form-question"
                /><ElButton link @click="section.questions.splice(place, 1)">take out</ElButton>
              </div>
              <ElButton link data-test="add-form-question" @click="add(at)">Add a question</ElButton>
            </div>
            <ElButton link @click="draft.sections.push({ title: 'Another section', questions: [] })">
              Add a section
            </ElButton>
            <h3>What the answers fill</h3>
            <div class="form-grid">
              <FormField
                v-for="fill in FORM_FILLS"
                :key="fill"
                :label="laterLabel('form fill', fill)"
                :place="`fills.${fill}`"
                ><ElSelect
                  :model-value="draft.fills[fill] ?? ''"
                  clearable
                  :value-on-clear="''"
                  placeholder="nothing"
                  @update:model-value="draft!.fills = { ...draft!.fills, [fill]: $event }"
                  ><ElOption
                    v-for="one in questions"
                    :key="one.key"
                    :value="one.key"
                    :label="one.label || one.key" /></ElSelect
              ></FormField>
            </div>
          </div>
          <template #acts
            ><ElButton :disabled="busy || !draft?.name" data-test="save-form" @click="save">Keep the draft</ElButton
            ><ElButton type="primary" :disabled="busy || !draft?.name" data-test="publish-form" @click="publish"
              >Put it in force</ElButton
            ><ElButton @click="state.open = false">Leave it</ElButton></template
          ></EntryForm
        ></template
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
.editor {
  max-height: 62vh;
  overflow: auto;
  padding-right: 6px;
}
.part {
  border-top: 1px solid var(--rule);
  padding: 6px 0 12px;
  margin-top: 12px;
}
.question {
  border-top: 1px solid var(--rule-light);
  padding: 8px 0;
}
.gap {
  margin-top: 10px;
}
h3 {
  margin: 14px 0 6px;
}
small {
  display: block;
  color: var(--ink-quiet);
}
</style>
