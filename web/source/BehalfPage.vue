<script setup lang="ts">
import '#contract/messages/later.ts'
import { ElButton } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { AnswerBehalf, type ReadAsked, ReadBehalf, SayBehalf } from '#contract/source/asked.ts'
import { api } from '#web/api.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import AnswerForm from '#web/source/AnswerForm.vue'
import { momentIn } from '#web/source/eventMoment.ts'

/** The supplier's own form, for one of us who was asked to fill it in. */
const route = useRoute()
const router = useRouter()
const params = computed(() => ({ id: String(route.params.id), invitedId: String(route.params.invitedId) }))
const { data: asked, failure, reload } = useRead(ReadBehalf, () => ({ params: params.value }))
const { busy, reasons, run } = useAction()
const answer = ref<ResponseOf<typeof ReadAsked>['answer']>()
watch(asked, value => {
  if (value && !answer.value) answer.value = structuredClone(value.answer)
})
const terms = computed(() => asked.value?.terms !== '' && asked.value?.accepted === false)
async function accept(): Promise<void> {
  if (await run(() => api(SayBehalf, { params: params.value, body: { say: 'accept', reason: '' } }))) await reload()
}
async function submit(): Promise<void> {
  if (await run(() => api(AnswerBehalf, { params: params.value, body: { answer: answer.value!, submit: true } })))
    await router.push(`/source/events/${params.value.id}`)
}
</script>

<template>
  <SheetFailure v-if="failure" :failure="failure" @again="reload" />
  <article v-else-if="asked && answer" class="behalf">
    <p class="quiet">
      <RouterLink :to="`/source/events/${asked.id}`">← {{ asked.number }} {{ asked.title }}</RouterLink>
    </p>
    <h1>On behalf of {{ asked.supplier }}</h1>
    <p class="tone-attention" data-test="behalf-note">
      What is handed in here is marked as entered on behalf, in the log and to {{ asked.supplier }}. It counts until
      {{ momentIn(asked.endsAt, asked.zone) }}.
    </p>
    <template v-if="terms">
      <p>{{ asked.terms }}</p>
      <ReasonList :reasons="reasons" />
      <ElButton type="primary" :disabled="busy" data-test="accept-terms" @click="accept"
        >{{ asked.supplier }} accepts these terms</ElButton
      >
    </template>
    <AnswerForm
      v-else
      v-model="answer"
      :asked="asked"
      :reasons="reasons"
      :busy="busy"
      :may-act="asked.may.submit?.length === 0"
      @submit="submit"
    />
  </article>
</template>

<style scoped>
.behalf {
  padding: 18px 28px 40px;
  background: var(--sheet);
  min-height: 100%;
}
</style>
