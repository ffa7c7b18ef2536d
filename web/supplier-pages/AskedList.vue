<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { JoinAsked, ListAsked } from '#contract/source/asked.ts'
import { api } from '#web/api.ts'
import { kindTopic } from '#web/news/news.ts'
import { useSession } from '#web/people/session.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { t } from '#web/shared/language.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { momentIn } from '#web/source/eventMoment.ts'

/** What this supplier is asked, what is open first. */
const session = useSession()
const router = useRouter()
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
const { busy, reasons, run } = useAction()
async function join(id: string): Promise<void> {
  if (await run(() => api(JoinAsked, { params: { id } }))) await router.push(`/supplier/asked/${id}`)
}
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
  <section v-if="data?.open.length" data-test="open-to-us">
    <h2>{{ t('Open to you') }}</h2>
    <ReasonList v-if="reasons.length" :reasons="reasons" />
    <ul>
      <li v-for="one in data.open" :key="one.id" class="open">
        <span class="text"
          ><b>{{ one.title }}</b
          ><span class="quiet"
            >{{ one.number }}.
            {{
              t('Asked of every supplier of {category}; {count} lines', { category: one.category, count: one.lines })
            }}</span
          ></span
        ><span class="num"
          ><span>{{
            momentIn(one.endsAt ?? one.opensAt, session.person?.timeZone ?? one.zone, session.person?.locale)
          }}</span
          ><ElButton size="small" :disabled="busy" :data-test="`join-${one.number}`" @click="join(one.id)">{{
            t('Take part')
          }}</ElButton></span
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
li a,
.open {
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
