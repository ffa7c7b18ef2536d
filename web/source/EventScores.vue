<script setup lang="ts">
import '#web/theme/later.scss'
import { ElButton, ElInput, ElSlider } from 'element-plus'
import { computed, reactive, ref, watch } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { type CompareEvent, GivePoints } from '#contract/source/comparing.ts'
import { api } from '#web/api.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import TurnLine from '#web/source/TurnLine.vue'

/** Points by criterion, with the arithmetic; what each scorer gives, and at which weight of the price another would win. */
type Comparison = ResponseOf<typeof CompareEvent>
const props = defineProps<{ eventId: string; comparison: Comparison; formula: string }>()
const emit = defineEmits<{ kept: [] }>()
const { busy, reasons, run } = useAction()
const scores = computed(() => props.comparison.scores!)
const nameOf = (id: string): string => props.comparison.suppliers.find(one => one.supplierId === id)?.name ?? ''
const priceWeight = computed(() => Number(scores.value.criteria.find(one => one.key === 'price')?.weight ?? '0'))
const tried = ref(priceWeight.value)
watch(priceWeight, weight => (tried.value = weight))
/** Who wins at the weight that is tried: the last turn that is not above it. */
const winner = computed(() =>
  nameOf(scores.value.turns.filter(one => Number(one.from) <= tried.value).at(-1)?.supplierId ?? ''),
)
const me = computed(() => scores.value.scorers.find(one => one.me))
const mine = reactive<Record<string, string>>({})
const notes = reactive<Record<string, string>>({})
const keyOf = (question: string, supplierId: string): string => `${question} ${supplierId}`
watch(
  scores,
  now => {
    for (const question of now.questions)
      for (const one of question.answers) {
        const key = keyOf(question.key, one.supplierId)
        if (mine[key] === undefined) mine[key] = one.mine ?? ''
      }
  },
  { immediate: true },
)
const byPeople = computed(() => scores.value.questions.filter(one => one.scoredBy === 'people'))
async function give(done: boolean): Promise<void> {
  const points = byPeople.value.flatMap(question =>
    question.answers.flatMap(one => {
      const given = mine[keyOf(question.key, one.supplierId)] ?? ''
      return given === ''
        ? []
        : [
            {
              supplierId: one.supplierId,
              question: question.key,
              points: given,
              note: notes[keyOf(question.key, one.supplierId)] ?? '',
            },
          ]
    }),
  )
  if (await run(() => api(GivePoints, { params: { id: props.eventId }, body: { points, done } }))) emit('kept')
}
const shown = (points: Readonly<Record<string, string>>, key: string): string => points[key] ?? '–'
</script>

<template>
  <section class="section" data-test="scores">
    <h2>Scores</h2>
    <p>{{ formula }}</p>
    <p v-if="!scores.complete" class="tone-attention">
      Not all who score are done ({{
        scores.scorers
          .filter(one => !one.done)
          .map(one => one.name)
          .join(', ')
      }}): what people score is not counted yet, and nobody sees what others gave.
    </p>
    <LineTable
      :rows="scores.rows"
      :columns="
        lineColumns({
          name: 'Supplier',
          '#place': 'Place',
          ...Object.fromEntries(
            scores.criteria.map(one => [`#${one.key}`, `${laterLabel('criterion', one.key)} × ${one.weight} %`]),
          ),
          '#total': 'Total',
        })
      "
      label="Scores"
      :key-of="one => one.supplierId"
      ><template #name="{ row: one }">{{ nameOf(one.supplierId) }}</template>
      <template #place="{ row: one }">{{ one.place ?? 'knocked out' }}</template>
      <template #total="{ row: one }"
        ><b>{{ one.total ?? '–' }}</b></template
      >
      <template #cell="{ row: one, column }">{{ shown(one.points, column.key) }}</template></LineTable
    >
    <div v-if="scores.turns.length && scores.criteria.length > 1" class="turns">
      <h3>If the price weighed otherwise</h3>
      <ElSlider
        v-model="tried"
        :min="0"
        :max="100"
        :format-tooltip="value => `${value} %`"
        aria-label="Weight of the price"
      />
      <TurnLine :turns="scores.turns" :names="nameOf" :at="tried" :set="priceWeight" />
      <p>
        At {{ tried }} % for the price, <b>{{ winner }}</b> is first.
      </p>
    </div>
    <template v-if="scores.questions.length">
      <h3>Questions</h3>
      <LineTable
        v-for="question in scores.questions"
        :key="question.key"
        :rows="question.answers"
        :columns="
          lineColumns({
            name: 'Supplier',
            answer: 'Answer',
            '#points': `Points of ${question.most}`,
            ...(me && !me.done && question.scoredBy === 'people' ? { mine: 'Mine' } : {}),
          })
        "
        :label="question.label"
        :key-of="one => one.supplierId"
        ><template #head="{ column }">{{
          column.key === 'name' ? `${question.label} (${question.section}, weighs ${question.weight})` : column.label
        }}</template>
        <template #name="{ row: one }">{{ nameOf(one.supplierId) }}</template>
        <template #answer="{ row: one }">{{ one.answer || 'not answered' }}</template>
        <template #points="{ row: one }"
          >{{ one.points ?? '–'
          }}<small v-if="one.given.length"
            >{{ one.given.map(by => `${by.by} ${by.points}`).join(', ') }}; {{ one.spread }} apart</small
          ></template
        >
        <template #mine="{ row: one }"
          ><NumberField
            v-model="mine[keyOf(question.key, one.supplierId)]!"
            :label="`My points for ${nameOf(one.supplierId)}, ${question.label}`"
            width="70px" /><ElInput
            v-model="notes[keyOf(question.key, one.supplierId)]"
            size="small"
            placeholder="why"
            :aria-label="`Why, ${nameOf(one.supplierId)}`" /></template></LineTable
      ><ReasonList :reasons="reasons" />
      <p v-if="me && !me.done" class="bar">
        <ElButton :disabled="busy" data-test="keep-points" @click="give(false)">Keep my points</ElButton
        ><ElButton :disabled="busy" type="primary" data-test="points-done" @click="give(true)">I am done</ElButton
        ><span class="quiet">After that they are not changed; the others’ are seen as soon as all are done.</span>
      </p></template
    >
  </section>
</template>

<style scoped>
.turns {
  max-width: 560px;
  margin: 12px 0;
}
h3 {
  margin: 14px 0 4px;
}
</style>
