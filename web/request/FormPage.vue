<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { FillForm, type FormJson, ListForms } from '#contract/request/forms.ts'
import type { Answers, Section } from '#core/source/questionnaire.ts'
import { api, upload } from '#web/api.ts'
import NoticeStrip from '#web/request/NoticeStrip.vue'
import QuestionForm from '#web/source/QuestionForm.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import { useAction } from '#web/shared/useAction.ts'

/** A form that purchasing made: filled, it is one request. What is typed is kept on this machine until it is sent. */
const route = useRoute()
const router = useRouter()
const { busy, reasons, run } = useAction()
const forms = shallowRef<readonly FormJson[]>()
const form = computed(() => forms.value?.find(one => one.id === route.params.id))
const key = `form ${String(route.params.id)}`
const kept = ref<Answers>(JSON.parse(sessionStorage.getItem(key) ?? '{}') as Answers)
const answers = computed({
  get: () => kept.value,
  set: next => {
    kept.value = next
    sessionStorage.setItem(key, JSON.stringify(next))
  },
})
onMounted(async () => {
  forms.value = (await api(ListForms, { query: {} })).forms
})
async function go(): Promise<void> {
  const done = await run(() =>
    api(FillForm, { params: { id: form.value!.id }, body: { answers: answers.value as never } }),
  )
  if (done) {
    sessionStorage.removeItem(key)
    await router.push(`/request/${done.id}`)
  }
}
const sendFile = async (file: File): Promise<{ id: string; name: string }> => await upload(file)
</script>

<template>
  <main class="form-page">
    <p><RouterLink to="/request/new" class="quiet">← write a request without a form</RouterLink></p>
    <p v-if="forms && !form" class="empty">
      This form is no longer in force. <RouterLink to="/request/new">Write a request</RouterLink>.
    </p>
    <template v-else-if="form"
      ><h1>{{ form.name }}</h1>
      <p v-if="form.help" class="help">{{ form.help }}</p>
      <NoticeStrip :categories="form.category ? [form.category] : []" :suppliers="[]" /><EntryForm
        :reasons="reasons"
        :busy="busy"
        @submit="go"
        ><QuestionForm
          v-model="answers"
          :sections="form.sections as unknown as Section[]"
          :reasons="reasons"
          :send-file="sendFile"
        />
        <template #acts>
          <ElButton type="primary" :disabled="busy" data-primary data-test="fill-form" native-type="submit"
            >Make the request<kbd class="hint">Ctrl ↵</kbd></ElButton
          ><span class="quiet">You see budget and decisions before it is submitted.</span>
        </template></EntryForm
      ></template
    >
  </main>
</template>

<style scoped>
.form-page {
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  padding: 20px 28px 60px;
}
.form-page > * {
  max-width: 720px;
}
.help {
  margin: 6px 0 12px;
  white-space: pre-line;
}
.hint {
  margin-left: 8px;
  border: 0;
}
</style>
