<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import { ReadWay, UseWay } from '#contract/decide/endpoints.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { api } from '#web/api.ts'
import DoorFrame from '#web/frame/DoorFrame.vue'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { t } from '#web/shared/language.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, day, quantityText, unit } from '#web/shared/words.ts'

/** Where the link of a mail leads: what is to be decided, and the press that decides it, once. Looking decides nothing. */
const route = useRoute()
const session = useSession()
const { busy, reasons, run } = useAction()
const token = String(route.params.token)
const way = shallowRef<ResponseOf<typeof ReadWay>>()
const answer = ref<'approve' | 'reject' | 'ask'>('approve')
const words = ref('')
const done = ref('')
onMounted(async () => {
  way.value = await run(() => api(ReadWay, { params: { token } }))
  if (way.value) answer.value = way.value.offers
})
const ANSWERS = { approve: t('Approve it'), reject: t('Reject it'), ask: t('Ask a question') } as const
async function go(): Promise<void> {
  const body = { answer: answer.value, reason: words.value }
  if (await run(() => api(UseWay, { params: { token }, body }))) done.value = answer.value
}
</script>

<template>
  <DoorFrame :title="session.house || 'Ivory Order'">
    <template v-if="done && way">
      <h1 data-test="answered">
        {{
          done === 'approve'
            ? t('Approved. Thank you.')
            : done === 'reject'
              ? t('Rejected. Thank you.')
              : t('Your question is on its way.')
        }}
      </h1>
      <p>{{ way.number }}, {{ way.title }}</p>
    </template>
    <template v-else-if="way && way.reasons.length === 0">
      <p class="quiet">
        {{ t('{who} asks', { who: way.requester })
        }}{{ way.needBy ? `, ${t('needed by {day}', { day: day(way.needBy) })}` : '' }}, {{ way.number }}
      </p>
      <h1>{{ way.title }}</h1>
      <p class="total">
        {{ amountText(way.total) }} <small class="unit">{{ way.currency }}</small>
      </p>
      <p v-if="way.reason" class="said">“{{ way.reason }}”</p>
      <ol class="lines">
        <li v-for="(line, index) in way.lines" :key="index">
          <span>{{
            line.quantity === null ? line.what : `${line.what}, ${quantityText(line.quantity)} ${unit(line.unit)}`
          }}</span><b>{{ amountText(line.amount) }}</b>
        </li>
      </ol>
      <section v-if="way.changes.length" class="changed" data-test="way-changes">
        <h2>{{ t('Changed since it was asked about') }}</h2>
        <p v-for="(one, index) in way.changes" :key="index">
          {{ one.line }} <del v-if="one.before">{{ one.before }}</del> <b v-if="one.after">{{ one.after }}</b>
        </p>
      </section>
      <p v-for="one in way.budgets" :key="one.label" class="quiet left">
        <span>{{ t('Left once this is bought: {label}', { label: one.label }) }}</span><span
          :class="{ 'tone-stop': one.left.startsWith('-') }"
          >{{ amountText(one.left) }}</span
        >
      </p>
      <EntryForm :reasons="reasons" :busy="busy" @submit="go">
        <FormField
          :label="answer === 'approve' ? t('Words, if you like') : answer === 'reject' ? t('Reason') : t('Question')"
          place="reason"
          ><ElInput v-model="words" type="textarea" :rows="2" maxlength="2000" data-test="way-words"
        /></FormField>
        <template #acts
          ><ElButton
            :type="answer === 'reject' ? 'danger' : 'primary'"
            native-type="submit"
            class="go"
            :disabled="busy || (answer !== 'approve' && words.trim().length < 3)"
            data-test="way-go"
            >{{ ANSWERS[answer] }}</ElButton
          ></template
        >
      </EntryForm>
      <p class="bar others">
        <template v-for="(text, key) in ANSWERS" :key="key"
          ><ElButton v-if="key !== answer" link type="primary" :data-test="`way-${key}`" @click="answer = key">{{
            text
          }}</ElButton></template
        >
      </p>
      <p class="quiet">
        {{
          way.inPlaceOf
            ? t('{person} decides in place of {other}, once.', { person: way.person, other: way.inPlaceOf })
            : t('{person} decides, once.', { person: way.person })
        }}
      </p>
    </template>
    <template v-else-if="way || reasons.length">
      <h1>{{ way ? `${way.number}, ${way.title}` : t('This link does not open') }}</h1>
      <ReasonList :reasons="way ? way.reasons : reasons" />
      <p>
        <RouterLink to="/decide" data-test="way-desk">{{ t('Sign in and look at it') }}</RouterLink>
      </p>
    </template>
  </DoorFrame>
</template>

<style scoped>
.changed {
  border-left: 3px solid var(--brass);
  padding-left: 10px;
  margin: 8px 0;
}
.changed h2 {
  font: 600 13px var(--sans);
}
.total {
  font-size: 22px;
  font-weight: 600;
}
.said {
  font-style: italic;
}
.lines {
  list-style: none;
  padding: 0;
  margin: 10px 0;
}
.lines li,
.left {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  padding: 5px 0;
}
.lines li {
  border-bottom: 1px solid var(--rule-light);
}
.go {
  width: 100%;
  height: 44px;
}
.others {
  margin: 10px 0;
}
</style>
