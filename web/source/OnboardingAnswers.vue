<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput } from 'element-plus'
import { computed, reactive } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { OnboardingFile, type ReadOnboarding } from '#contract/source/onboarding.ts'
import { pathOf } from '#web/api.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** What the supplier answered, beside what the record says; and, while one asks back, what one wants to know about which answer. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadOnboarding>; asking: boolean; busy: boolean }>()
const emit = defineEmits<{ ask: [asks: { key: string; question: string }[]]; leave: [] }>()
const asks = reactive<Record<string, string>>({})
const columns = computed(() =>
  lineColumns({
    ...(props.asking ? { '-ask': 'Ask' } : {}),
    question: 'Question',
    answer: 'Answer',
    '~record': 'The record says',
  }),
)
const toAsk = computed(() =>
  Object.entries(asks).flatMap(([key, question]) => (question.trim().length >= 3 ? [{ key, question }] : [])),
)
const toggleAsk = (key: string, on: boolean): void => {
  if (on) asks[key] = asks[key] ?? ''
  else delete asks[key]
}
</script>

<template>
  <section v-for="section in sheet.sections" :key="section.title" class="section">
    <h2>{{ section.title }}</h2>
    <LineTable
      class="answers"
      :rows="section.questions.filter(one => one.asked)"
      :columns="columns"
      :label="section.title"
      :key-of="one => one.key"
      :mark="one => `answer-${one.key}`"
    >
      <template #ask="{ row: one }"
        ><ElCheckbox
          :model-value="one.key in asks"
          :aria-label="`Ask about ${one.label}`"
          :data-test="`ask-${one.key}`"
          @change="toggleAsk(one.key, $event as boolean)"
      /></template>
      <template #question="{ row: one }"
        >{{ one.label
        }}<small v-if="one.ask" :class="one.ask.answered ? 'quiet' : 'tone-attention'"
          >{{ one.ask.by }} asked: “{{ one.ask.question }}”{{ one.ask.answered ? '' : ', not answered yet' }}</small
        >
        <ElInput
          v-if="one.key in asks"
          v-model="asks[one.key]"
          placeholder="What do you want to know?"
          size="small"
          :data-test="`question-${one.key}`"
      /></template>
      <template #answer="{ row: one }"
        ><span :class="{ 'tone-attention': !one.answer && one.required }"
          ><a v-if="one.fileId" :href="pathOf(OnboardingFile, { id: sheet.id, fileId: one.fileId })" download>{{
            one.answer
          }}</a
          ><template v-else>{{ one.answer || (one.required ? 'not answered' : '–') }}</template></span
        ><small v-if="one.before !== null" class="quiet">before: {{ one.before || 'nothing' }}</small></template
      >
      <template #record="{ row: one }"
        ><template v-if="one.record !== null"
          ><span v-if="one.record === one.answer">{{ one.answer ? 'the same' : '' }}</span
          ><span v-else :class="{ 'tone-attention': one.record !== '' && one.answer !== '' }">{{
            one.record || 'nothing'
          }}</span></template
        ></template
      >
    </LineTable>
  </section>
  <p v-if="asking" class="bar foot">
    <ElButton type="primary" :disabled="busy || !toAsk.length" data-test="send-asks" @click="emit('ask', toAsk)"
      >Ask {{ toAsk.length || '' }} {{ toAsk.length === 1 ? 'question' : 'questions' }}</ElButton
    ><ElButton @click="emit('leave')">Leave it</ElButton>
  </p>
</template>

<style scoped>
.answers :deep(td:nth-last-child(-n + 2)) {
  width: 30%;
}
.foot {
  margin-top: 14px;
}
small {
  display: block;
}
</style>
