<script setup lang="ts">
import { ElButton } from 'element-plus'
import { onMounted, ref, shallowRef, watch } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadNeeds } from '#contract/request/endpoints.ts'
import { ALL_BOUGHT } from '#core/request/states.ts'
import { isIn } from '#core/states.ts'
import { api } from '#web/api.ts'
import GaugeBar from '#web/charts/GaugeBar.vue'
import { documentTopic, useNews } from '#web/news/news.ts'
import { amountText, day, label, words } from '#web/shared/words.ts'

/** Everything one asked for, as threads: how far each line has come, who holds it, and what is one's own to do. */
const answer = shallowRef<ResponseOf<typeof ReadNeeds>>()
const view = ref<'open' | 'all'>('open')
const load = async (): Promise<void> => {
  answer.value = await api(ReadNeeds, { query: { view: view.value } })
}
watch(view, () => void load())
useNews(
  () => answer.value?.needs.map(need => documentTopic(need.id)) ?? [],
  () => void load(),
)
onMounted(load)
</script>

<template>
  <main class="needs">
    <div class="column">
      <p class="bar">
        <RouterLink to="/request" class="quiet">Requests</RouterLink
        ><ElButton link :class="{ now: view === 'open' }" @click="view = 'open'">still open</ElButton
        ><ElButton link :class="{ now: view === 'all' }" data-test="needs-all" @click="view = 'all'"> all </ElButton>
      </p>
      <h1>My needs</h1>
      <p v-if="answer && answer.needs.length === 0" class="empty">
        Nothing of yours is open. <RouterLink to="/request/new">Ask for something</RouterLink>.
      </p>
      <section v-for="need in answer?.needs" :key="need.id" class="need" :data-test="`need-${need.number}`">
        <header>
          <h2>
            <RouterLink :to="`/request/${need.id}`">{{ need.title }}</RouterLink>
          </h2>
          <span class="quiet">{{ need.number }}{{ need.needBy ? `, needed by ${day(need.needBy)}` : '' }}</span
          ><span class="sum"
            >{{ amountText(need.total) }} <span class="unit">{{ need.currency }}</span></span
          >
        </header>
        <p :class="`tone-${need.tone}`">
          {{ words(need.sentence) }}
          <RouterLink
            v-for="one in need.toDo"
            :key="one.what + one.path"
            :to="one.path"
            class="do"
            :data-test="`do-${one.what}`"
            >{{ label('to do', one.what) }}</RouterLink
          >
        </p>
        <div v-for="line in need.lines.slice(0, 6)" :key="line.id" class="line">
          <span class="cut">{{ line.description }}</span><span class="quiet">{{
            line.state === 'open' ? '' : label('state', line.state)
          }}</span
          ><GaugeBar v-if="isIn(ALL_BOUGHT, line.state)" :gauge="line.gauge" /><span v-else class="no-gauge" />
        </div>
        <p v-if="need.lines.length > 6" class="quiet">and {{ need.lines.length - 6 }} more lines</p>
      </section>
      <p v-if="answer?.hidden" class="quiet">
        {{ answer.hidden }} older ones are in <RouterLink to="/request?view=mine">your requests</RouterLink>.
      </p>
    </div>
  </main>
</template>

<style scoped>
.needs {
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  padding: 20px 24px 60px;
}
.column {
  max-width: 860px;
  margin: 0 auto;
}
.now {
  font-weight: 700;
  color: var(--ink);
}
.need {
  border-top: 1px solid var(--rule);
  padding: 12px 0 14px;
  margin-top: 12px;
}
header {
  display: flex;
  gap: 12px;
  align-items: baseline;
  flex-wrap: wrap;
}
header a {
  color: inherit;
}
.sum {
  margin-left: auto;
  font-weight: 600;
}
.do {
  margin-left: 10px;
  font-weight: 600;
}
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 110px 220px;
  gap: 14px;
  align-items: center;
  padding: 3px 0;
}
.cut {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
@media (max-width: 700px) {
  .needs {
    padding: 14px 16px;
  }
  .line {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .line > :nth-child(3) {
    grid-column: 1 / -1;
  }
}
</style>
