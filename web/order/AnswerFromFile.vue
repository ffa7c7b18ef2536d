<script setup lang="ts">
import { shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadAnswerFile } from '#contract/order/endpoints.ts'
import FileField from '#web/shared/FileField.vue'
import { t } from '#web/shared/language.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { words } from '#web/shared/words.ts'

/** Fills an answer in from a UBL OrderResponse: what could not be taken over, and what the file does not speak of, is said. */
type AnswerRead = ResponseOf<typeof ReadAnswerFile>
const props = defineProps<{ read: (text: string) => Promise<AnswerRead>; revision: number }>()
const emit = defineEmits<{ read: [answer: AnswerRead] }>()
const { busy, reasons, run } = useAction()
const answer = shallowRef<AnswerRead>()

async function choose([file]: File[]): Promise<void> {
  answer.value = undefined
  answer.value = await run(async () => props.read(await file!.text()))
  if (answer.value) emit('read', answer.value)
}
</script>

<template>
  <div class="from-file">
    <FileField
      :label="t('Fill it in from a UBL file (OrderResponse)')"
      accept=".xml"
      :busy="busy"
      mark="answer-file"
      @choose="choose"
    />
    <ReasonList :reasons="reasons" />
    <template v-if="answer">
      <p v-if="answer.revision !== null && answer.revision !== revision" class="reasons check">
        {{
          t('The file answers revision {revision}; the current one is {current}. Look at each line.', {
            revision: answer.revision,
            current: revision,
          })
        }}
      </p>
      <p v-for="one in answer.left" :key="one.row + one.code" class="reasons check">
        {{ t('Row {row} is left:', { row: one.row }) }} {{ words(one) }}
      </p>
      <p v-if="answer.unsaid.length" class="quiet">
        {{
          t('The file says nothing of these lines; they stand as they were ordered: {lines}.', {
            lines: answer.unsaid.join(', '),
          })
        }}
      </p>
      <p class="tone-settled" role="status" data-test="answer-file-read">
        {{ t('Filled in from the file. Look at it before you send it.') }}
      </p>
    </template>
  </div>
</template>

<style scoped>
.from-file p {
  margin: 4px 0;
}
</style>
