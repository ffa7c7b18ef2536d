<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { ref } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import type { AnswerArrivalLink, ReadArrivalLink } from '#contract/receive/arrivals.ts'
import { ARRIVAL_ANSWERS, type ArrivalAnswer } from '#core/receive/arrival.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import { quantityText, unit } from '#web/shared/words.ts'

/** Whether somebody has what came for them: one press when all is well, a word where it is not. */
defineProps<{
  lines: ResponseOf<typeof ReadArrivalLink>['lines']
  busy: boolean
  reasons: readonly ReasonJson[]
}>()
const emit = defineEmits<{ go: [body: BodyOf<typeof AnswerArrivalLink>] }>()
const chosen = ref<Exclude<ArrivalAnswer, 'confirm'>>()
const note = ref('')
function press(answer: ArrivalAnswer): void {
  if (answer === 'confirm') emit('go', { answer, note: '' })
  else chosen.value = answer
}
</script>

<template>
  <ul>
    <li v-for="line in lines" :key="line.position">
      {{ quantityText(line.quantity) }} {{ unit(line.unit) }} {{ line.description }}
    </li>
  </ul>
  <div class="answers">
    <ElButton
      v-for="one in ARRIVAL_ANSWERS"
      :key="one"
      :type="one === 'confirm' ? 'primary' : 'default'"
      :plain="one === chosen"
      :disabled="busy"
      :data-test="`arrival-${one}`"
      @click="press(one)"
      >{{ laterLabel('arrival', one) }}</ElButton
    >
  </div>
  <div v-if="chosen" class="answers">
    <ElInput
      v-model="note"
      type="textarea"
      :rows="2"
      maxlength="4000"
      aria-label="What is not as it should be"
      placeholder="What is not as it should be?"
      data-test="arrival-note"
    /><ElButton
      type="primary"
      :disabled="busy || note.trim() === ''"
      data-test="arrival-go"
      @click="emit('go', { answer: chosen, note })"
      >Tell the buyer</ElButton
    >
  </div>
  <ReasonList v-if="reasons.length" :reasons="reasons" />
</template>

<style scoped>
.answers {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 12px;
}
.answers :deep(.el-button) {
  margin: 0;
}
</style>
