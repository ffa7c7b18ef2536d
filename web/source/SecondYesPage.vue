<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { AnswerSecondYes, ReadSecondYes } from '#contract/source/endpoints.ts'
import { api } from '#web/api.ts'
import { documentTopic, useNews } from '#web/news/news.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label, since } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import FormField from '#web/shared/FormField.vue'

/** What a second person is asked to say yes to. */
const route = useRoute()
const router = useRouter()
const { busy, reasons, run } = useAction()
const asked = shallowRef<ResponseOf<typeof ReadSecondYes>>()
const reason = ref('')
const id = computed(() => String(route.params.id))
const open = computed(() => asked.value?.state === 'open')
const short = computed(() => busy.value || reason.value.trim().length < 3)
const TITLES: Readonly<Record<string, string>> = {
  bar: 'Bar this supplier?',
  sharedNumber: 'A second record with the same number?',
  merge: 'Merge two records, and pay one supplier’s invoices to the other?',
}

async function load(): Promise<void> {
  asked.value = (await run(() => api(ReadSecondYes, { params: { id: id.value } }))) ?? asked.value
}
watch(id, load, { immediate: true })
useNews(
  () => [documentTopic(id.value)],
  () => void load(),
)
async function answer(how: 'agree' | 'refuse' | 'withdraw'): Promise<void> {
  const done = await run(() =>
    api(AnswerSecondYes, {
      params: { id: id.value },
      body: { version: asked.value!.version, answer: how, reason: reason.value },
    }),
  )
  if (done?.supplierId) await router.push(`/source/${done.supplierId}`)
  else if (done) await load()
}
</script>

<template>
  <article class="second-yes">
    <p class="quiet">A second person’s yes</p>
    <template v-if="asked">
      <h1>{{ TITLES[asked.kind] }}</h1>
      <p class="state" :class="open ? 'tone-attention' : 'quiet'" data-test="state">
        {{ open ? `${asked.askedBy} asked ${since(asked.askedAt)}.` : `Answered: ${label('state', asked.state)}.` }}
      </p>
      <blockquote>{{ asked.reason }}</blockquote>
      <p>
        <template v-if="asked.supplierId"
          ><RouterLink :to="`/source/${asked.supplierId}`">{{ asked.name }}</RouterLink></template
        ><b v-else>{{ asked.name }}</b
        ><template v-if="asked.subject">, {{ asked.subject }}</template
        ><template v-if="asked.others.length"
          >; concerns
          <template v-for="(one, index) in asked.others" :key="one.id"
            >{{ index ? ' and ' : ''
            }}<RouterLink :to="`/source/${one.id}`">{{ one.name }} {{ one.number }}</RouterLink></template
          ></template
        >.
      </p>
      <p v-if="asked.kind === 'merge'" class="reasons check">
        What the merged record is owed would be paid to the account of the one that is kept. Make sure with the
        supplier, by a number that you knew before, that this is so.
      </p>
      <template v-if="asked.mayAnswer || (asked.mine && open)">
        <FormField label="Reason"><ElInput v-model="reason" type="textarea" :rows="3" data-test="reason" /></FormField>
        <ReasonList :reasons="reasons" />
        <p class="bar">
          <template v-if="asked.mayAnswer"
            ><ElButton type="primary" :disabled="short" data-test="agree" @click="answer('agree')"
              >Yes, {{ laterLabel('second yes', asked.kind) }}</ElButton
            ><ElButton :disabled="short" data-test="refuse" @click="answer('refuse')">No</ElButton></template
          ><ElButton v-if="asked.mine" link :disabled="short" @click="answer('withdraw')">Take it back</ElButton>
        </p>
      </template>
      <p v-else-if="open" class="quiet">
        Only those who may say yes can answer: buyers, the sourcing lead, finance and the director.
      </p>
    </template>
    <ReasonList v-else :reasons="reasons" />
  </article>
</template>

<style scoped>
.second-yes {
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
  font: 15px/1.5 var(--sans);
}
</style>
