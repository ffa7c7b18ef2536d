<script setup lang="ts">
import { computed } from 'vue'
import { ListAsked } from '#contract/source/asked.ts'
import { kindTopic } from '#web/news/news.ts'
import { useSession } from '#web/people/session.ts'
import { t } from '#web/shared/language.ts'
import { useRead } from '#web/shared/useRead.ts'
import { momentIn } from '#web/source/eventMoment.ts'

/** What this supplier is asked, what is open first. */
const session = useSession()
const { data } = useRead(ListAsked, {}, { topics: () => [kindTopic('event')], keep: true })
const events = computed(() => data.value?.events ?? [])
const standing = (one: (typeof events.value)[number]): string =>
  one.state === 'over' || one.state === 'cancelled'
    ? t('over')
    : one.standing === 'answered'
      ? one.format === 'auction'
        ? t('you have bid')
        : t('your answer is in')
      : one.standing === 'declined'
        ? t('declined')
        : one.standing === 'suspended'
          ? t('you cannot answer for now')
          : t('waits for your answer')
const waits = (one: (typeof events.value)[number]): boolean => standing(one) === t('waits for your answer')
</script>

<template>
  <section v-if="events.length" data-test="asked-list">
    <h2>{{ t('You are asked') }}</h2>
    <ul>
      <li v-for="one in events" :key="one.id">
        <RouterLink :to="`/supplier/asked/${one.id}`" :data-test="`asked-${one.number}`"
          ><span class="text"
            ><b>{{ one.title }}</b
            ><span class="quiet"
              >{{ one.number }}, {{ one.format === 'auction' ? t('reverse auction') : t('quote request')
              }}{{ one.unread ? `, ${t('{count} unread', { count: one.unread })}` : '' }}</span
            ></span
          ><span class="num"
            ><span>{{
              momentIn(one.endsAt ?? one.opensAt, session.person?.timeZone ?? one.zone, session.person?.locale)
            }}</span
            ><span :class="waits(one) ? 'tone-attention' : 'quiet'">{{ standing(one) }}</span></span
          ></RouterLink
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 8px 0 18px;
  background: var(--sheet);
  border: 1px solid var(--rule);
}
li + li {
  border-top: 1px solid var(--rule-light);
}
li a {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  padding: 11px 16px;
  color: inherit;
}
.text,
.num {
  display: flex;
  flex-direction: column;
}
.text .quiet,
.num > span:last-child {
  font-size: 12px;
}
</style>
