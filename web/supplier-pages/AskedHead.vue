<script setup lang="ts">
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { AskedFile, type ReadAsked } from '#contract/source/asked.ts'
import { pathOf } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import { t } from '#web/shared/language.ts'
import { momentIn } from '#web/source/eventMoment.ts'

/** What is asked by whom, until when: in the reader's own time, and in the buyer's where that is another. */
const props = defineProps<{ asked: ResponseOf<typeof ReadAsked> }>()
const session = useSession()
const mine = computed(() => session.person?.timeZone ?? props.asked.zone)
const locale = computed(() => session.person?.locale ?? 'en-GB')
const at = (instant: string | null): string => {
  const own = momentIn(instant, mine.value, locale.value)
  const theirs = momentIn(instant, props.asked.zone, locale.value)
  return own === theirs ? own : `${own} (${theirs})`
}
const sentence = computed(() => {
  const { state, submittedAt, standing } = props.asked
  if (state === 'cancelled') return t('The buyer has cancelled it.')
  if (state === 'over') return submittedAt ? t('It is over. Your answer is in.') : t('It is over.')
  if (standing === 'suspended') return t('You cannot answer for now. You can write to the buyer.')
  if (state === 'coming') return t('It opens {at}.', { at: at(props.asked.opensAt) })
  return t('It counts until {at}.', { at: at(props.asked.endsAt) })
})
</script>

<template>
  <p class="quiet">
    <RouterLink to="/supplier">{{ t('Orders') }}</RouterLink> /
    {{
      asked.settings.format === 'auction'
        ? t('Reverse auction {number}', { number: asked.number })
        : t('Quote request {number}', { number: asked.number })
    }}, {{ asked.house }}, {{ asked.buyer }}
  </p>
  <h1>{{ asked.title }}</h1>
  <p class="state" data-test="asked-state">{{ sentence }}</p>
  <p v-if="asked.settings.sealed && asked.state !== 'over'" class="quiet">
    {{ t('Answers are sealed: nobody at the buyer’s reads yours before the end.') }}
  </p>
  <p v-if="asked.onBehalfBy" class="tone-attention">
    {{ t('Your answer was typed in for you by {name}.', { name: asked.onBehalfBy }) }}
  </p>
  <p v-if="asked.message" class="message">
    “{{ asked.message }}” <span class="quiet">{{ asked.buyer }}</span>
  </p>
  <template v-for="text in asked.texts" :key="text.key"
    ><p v-if="text.ours && text.place === 'head' && text.text">
      <b>{{ text.name }}</b> {{ text.text }}
    </p></template
  >
  <p v-for="file in asked.files" :key="file.id">
    <a :href="pathOf(AskedFile, { id: asked.id, fileId: file.id })" target="_blank">{{ file.name }}</a>
  </p>
</template>

<style scoped>
.state {
  font-size: 14px;
  margin: 4px 0;
}
.message {
  font-style: italic;
  margin: 8px 0;
}
</style>
