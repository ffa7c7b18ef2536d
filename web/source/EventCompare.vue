<script setup lang="ts">
import '#contract/messages/later.ts'
import { ElButton, ElCheckbox } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { CompareEvent } from '#contract/source/comparing.ts'
import { EventFile, ReadEvent } from '#contract/source/events.ts'
import { pathOf } from '#web/api.ts'
import { documentTopic } from '#web/news/news.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, day } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import AwardPane from '#web/source/AwardPane.vue'
import ComparisonTable from '#web/source/ComparisonTable.vue'
import EventScores from '#web/source/EventScores.vue'
import { useAward } from '#web/source/useAward.ts'

/** Answers beside each other, at landed cost; scores; and the award, line by line or in a click. */
const route = useRoute()
const router = useRouter()
const id = computed(() => String(route.params.id))
const topics = () => [documentTopic(id.value)]
const { data, failure, reload } = useRead(CompareEvent, () => ({ params: { id: id.value } }), { topics, keep: true })
const { data: sheet } = useRead(ReadEvent, () => ({ params: { id: id.value } }), { topics, keep: true })
const onlyDifferent = ref(false)
const award = useAward(data)
const awarding = computed(
  () => sheet.value?.actions.some(one => one.action === 'compareAnswers' && one.possible) ?? false,
)
/** Shares that an award plan hands over, to be changed by hand. */
interface Handed {
  readonly lineId: string
  readonly supplierId: string
  readonly quantity: string
}
const handed = (history.state as { shares?: string } | null)?.shares
if (handed) for (const one of JSON.parse(handed) as Handed[]) award.give(one.lineId, one.supplierId, one.quantity)
const rows = computed(
  () =>
    data.value?.lines.filter(line => !onlyDifferent.value || (line.spread !== null && Number(line.spread) > 0)) ?? [],
)
const beside = computed(
  () => data.value?.suppliers.filter(one => one.note || one.ownLines.length || one.files.length) ?? [],
)
</script>

<template>
  <main class="compare">
    <SheetFailure v-if="failure" :failure="failure" @again="reload" />
    <template v-else-if="data">
      <p class="quiet">
        <RouterLink :to="`/source/events/${id}`" data-test="back-to-event"
          >← {{ sheet?.number }} {{ sheet?.title }}</RouterLink
        >
      </p>
      <h1>Answers compared</h1>
      <ReasonList v-if="data.reasons.length" :reasons="data.reasons" />
      <template v-else>
        <p class="lead">
          Landed cost for one unit, in {{ data.currency }}, at the rates of {{ day(data.ratesOn) }}; open a figure to
          see how it comes about. {{ data.common }} of {{ data.lines.length }} lines are offered by all who answered.
        </p>
        <p class="bar tools">
          <ElCheckbox v-model="onlyDifferent" label="only where they differ" data-test="only-different" />
          <RouterLink :to="`/source/events/${id}/plan`" data-test="to-plan">Award plan</RouterLink>
          <template v-if="awarding"
            ><ElButton data-test="award-cheapest" @click="award.cheapest()">Each line to the cheapest</ElButton
            ><ElButton v-if="award.any.value" link @click="award.clear()">begin anew</ElButton></template
          >
        </p>
        <ComparisonTable :event-id="id" :comparison="data" :rows="rows" :award="award" :awarding="awarding" />
        <section v-if="beside.length" class="section">
          <h2>Beside the lines</h2>
          <div v-for="one in beside" :key="one.supplierId" class="beside">
            <b>{{ one.name }}</b>
            <p v-if="one.note">“{{ one.note }}”</p>
            <p v-for="line in one.ownLines" :key="line.description">
              adds: {{ line.description }}, {{ line.quantity }} {{ line.unit }} at {{ amountText(line.price) }}
              {{ one.currency }}
            </p>
            <p v-for="file in one.files" :key="file.id">
              <a :href="pathOf(EventFile, { id, fileId: file.id })" target="_blank">{{ file.name }}</a>
            </p>
            <p class="quiet">
              {{ one.paymentDays === null ? '' : `paid after ${one.paymentDays} days`
              }}{{ one.validUntil ? `, valid until ${day(one.validUntil)}` : '' }}
            </p>
          </div>
        </section>
        <EventScores
          v-if="data.scores"
          :event-id="id"
          :comparison="data"
          :formula="laterLabel('price formula', data.scores.formula)"
          @kept="reload"
        />
        <AwardPane
          v-if="awarding && sheet"
          :sheet="sheet"
          :comparison="data"
          :award="award"
          @done="router.push(`/source/events/${id}`)"
        />
      </template>
    </template>
  </main>
</template>

<style scoped>
.compare {
  padding: 16px 24px 60px;
  background: var(--sheet);
  min-height: 100%;
  overflow: auto;
}
.lead {
  max-width: 760px;
  margin: 4px 0 10px;
}
.tools {
  margin-bottom: 8px;
}
.beside {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule-light);
}
</style>
