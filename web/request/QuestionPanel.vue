<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { reactive } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { AnswerQuestion, type ReadRequisition } from '#contract/request/endpoints.ts'
import { api } from '#web/api.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { since } from '#web/shared/words.ts'

/** What purchasing asked about a request, and the requester's answers. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadRequisition> }>()
const emit = defineEmits<{ changed: [] }>()
const { busy, reasons, run } = useAction()
const answers = reactive<Record<string, string>>({})
const linesOf = (question: string): string =>
  props.sheet.questions
    .filter(one => one.question === question && one.lineId)
    .map(one => props.sheet.lines.find(line => line.id === one.lineId)?.position)
    .filter(Boolean)
    .join(', ')
const once = (): typeof props.sheet.questions =>
  props.sheet.questions.filter(
    (one, index, all) => all.findIndex(other => other.question === one.question && other.at === one.at) === index,
  )
async function send(id: string): Promise<void> {
  if (
    await run(() =>
      api(AnswerQuestion, { params: { id: props.sheet.id, questionId: id }, body: { answer: answers[id] ?? '' } }),
    )
  )
    emit('changed')
}
</script>

<template>
  <section v-if="sheet.questions.length" class="questions" aria-label="Questions">
    <div v-for="one in once()" :key="one.id" class="question" :class="{ open: !one.answeredAt }">
      <p>
        <b>{{ one.by }}</b>
        <span class="quiet"
          >{{ since(one.at) }}{{ linesOf(one.question) ? `, about line ${linesOf(one.question)}` : '' }}</span
        ><br />“{{ one.question }}”
      </p>
      <p v-if="one.answeredAt && one.answer" class="answer">
        <b>{{ one.answeredBy }}</b> <span class="quiet">{{ since(one.answeredAt) }}</span><br />“{{ one.answer }}”
      </p>
      <div v-else-if="!one.answeredAt && sheet.mine" class="bar">
        <ElInput
          v-model="answers[one.id]"
          type="textarea"
          :rows="2"
          placeholder="Your answer"
          aria-label="Your answer"
          data-test="answer"
        /><ElButton
          type="primary"
          size="small"
          :disabled="busy || (answers[one.id] ?? '').trim().length < 3"
          data-test="send-answer"
          @click="send(one.id)"
          >Answer</ElButton
        >
      </div>
    </div>
    <ReasonList :reasons="reasons" />
  </section>
</template>

<style scoped>
.questions {
  margin-top: 12px;
  max-width: 620px;
}
.question {
  border-left: 3px solid var(--rule);
  padding: 4px 12px;
  margin-bottom: 8px;
}
.question.open {
  border-color: var(--brass);
  background: #fbf3df;
}
.answer {
  margin-top: 6px;
}
</style>
