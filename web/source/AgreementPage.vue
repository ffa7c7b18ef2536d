<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { AnswerAgreement, ReadAgreement } from '#contract/source/endpoints.ts'
import { api } from '#web/api.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label, since } from '#web/shared/words.ts'

/** What a second person is asked to agree to. */
const route = useRoute()
const router = useRouter()
const { busy, reasons, run } = useAction()
const asked = shallowRef<ResponseOf<typeof ReadAgreement>>()
const reason = ref('')
const id = computed(() => String(route.params.id))
async function load(): Promise<void> {
  asked.value = await run(() => api(ReadAgreement, { params: { id: id.value } }))
}
watch(id, load, { immediate: true })
async function answer(how: 'agree' | 'refuse' | 'withdraw'): Promise<void> {
  const done = await run(() =>
    api(AnswerAgreement, {
      params: { id: id.value },
      body: { version: asked.value!.version, answer: how, reason: reason.value },
    }),
  )
  if (done?.supplierId) await router.push(`/source/${done.supplierId}`)
  else if (done) await load()
}
</script>

<template>
  <article class="agreement">
    <p class="quiet">A second person’s agreement</p>
    <template v-if="asked">
      <h1>{{ asked.kind === 'bar' ? `Bar ${asked.name}?` : `A second record with ${asked.subject}?` }}</h1>
      <p class="state" :class="asked.state === 'waiting' ? 'tone-attention' : 'quiet'" data-test="state">
        {{
          asked.state === 'waiting'
            ? `${asked.askedBy} asked ${since(asked.askedAt)}.`
            : `Answered: ${label('state', asked.state)}.`
        }}
      </p>
      <blockquote>{{ asked.reason }}</blockquote>
      <p v-if="asked.kind === 'sharedIdentifier'">
        New record: <b>{{ asked.name }}</b>. The number is kept by
        <template v-for="(one, index) in asked.others" :key="one.id"
          >{{ index ? ' and ' : ''
          }}<RouterLink :to="`/source/${one.id}`">{{ one.name }} {{ one.number }}</RouterLink></template
        >.
      </p>
      <p v-else-if="asked.supplierId">
        <RouterLink :to="`/source/${asked.supplierId}`">Its record, orders and signals</RouterLink>
      </p>
      <template v-if="asked.mayAnswer || (asked.mine && asked.state === 'waiting')">
        <label class="field">Reason<ElInput v-model="reason" type="textarea" :rows="3" data-test="reason" /></label>
        <ReasonList :reasons="reasons" />
        <p class="bar">
          <template v-if="asked.mayAnswer"
            ><ElButton
              type="primary"
              :disabled="busy || reason.trim().length < 3"
              data-test="agree"
              @click="answer('agree')"
              >Agree</ElButton
            ><ElButton :disabled="busy || reason.trim().length < 3" data-test="refuse" @click="answer('refuse')"
              >Refuse</ElButton
            ></template
          ><button
            v-if="asked.mine"
            type="button"
            class="plain"
            :disabled="busy || reason.trim().length < 3"
            @click="answer('withdraw')"
          >
            Take it back
          </button>
        </p>
      </template>
      <p v-else-if="asked.state === 'waiting'" class="quiet">
        Only those who may agree can answer: buyers, the sourcing lead, finance and the director.
      </p>
    </template>
    <ReasonList v-else :reasons="reasons" />
  </article>
</template>

<style scoped>
.agreement {
  padding: 20px 28px 60px;
  max-width: 640px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
blockquote {
  margin: 0;
  padding-left: 14px;
  border-left: 3px solid var(--rule);
  font: 15px/1.5 var(--serif);
}
</style>
