<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref, watch } from 'vue'
import type { CostingRow } from '#core/build/costingRows.ts'
import { isZeroText, roundedText } from '#core/money/text.ts'
import { wantsLook } from '#web/build/costingText.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { amountText, priceText, quantityText, unit, words } from '#web/shared/words.ts'

/** The parts of a build: need, what is bought from whom, and what there is to know; what wants a look stands first. */
const props = defineProps<{ rows: readonly CostingRow[] }>()
const emit = defineEmits<{ open: [part: number]; seen: [parts: number[]] }>()
const text = ref('')
const PAGE = 80
const most = ref(PAGE)
/** The order stays while a slider moves: it is made anew when the parts are others or a note changes its weight. */
const placed = computed(() =>
  props.rows
    .map((row, at) => ({ at, weight: wantsLook(row.notes), cost: Number(row.amount), row }))
    .filter(({ row }) =>
      `${row.name} ${row.number} ${row.listed}`.toLowerCase().includes(text.value.trim().toLowerCase()),
    )
    .sort((a, b) => a.weight - b.weight || b.cost - a.cost || a.at - b.at),
)
const shown = computed(() => placed.value.slice(0, most.value))
watch(
  shown,
  list =>
    emit(
      'seen',
      list.map(one => one.at),
    ),
  { immediate: true },
)
type Shown = (typeof shown.value)[number]
/** Cents say enough of what costs more than a few euros. */
const FEW = 10
const eachText = (text: string): string => priceText(Number(text) < FEW ? text : roundedText(text, 2))
const tone = ({ row }: Shown): string =>
  row.notes[0]?.level === 'stop' ? 'tone-stop' : row.notes[0]?.level === 'check' ? 'tone-attention' : 'quiet'
</script>

<template>
  <section class="section" data-test="part-table">
    <h2>
      Parts <small class="quiet">what wants a look stands first</small>
      <ElInput
        v-if="rows.length > 12"
        v-model="text"
        class="find"
        size="small"
        clearable
        placeholder="find a part"
        aria-label="Find a part"
        data-test="find-part"
      />
    </h2>
    <LineTable
      :rows="shown"
      :columns="
        lineColumns({
          name: 'Part',
          '#^per': 'Per build',
          '#need': 'Need',
          '#buy': 'Buy',
          from: 'From',
          '#^each': 'Each',
          '#paid': 'Amount',
          note: 'Note',
        })
      "
      label="Parts"
      :key-of="one => one.row.key"
      ><template #name="{ row: one }"
        ><ElButton link class="name" :data-test="`part-${one.row.number || one.at}`" @click="emit('open', one.at)">{{
          one.row.name
        }}</ElButton
        ><small v-if="one.row.number" class="quiet"
          >{{ one.row.number }}<template v-if="one.row.listed">, listed as {{ one.row.listed }}</template></small
        ></template
      >
      <template #per="{ row: one }">{{ quantityText(one.row.perBuild) }} {{ unit(one.row.unit) }}</template>
      <template #need="{ row: one }">{{ quantityText(one.row.need) }}</template>
      <template #buy="{ row: one }"
        >{{ isZeroText(one.row.buy) ? '–' : quantityText(one.row.buy)
        }}<small v-if="!isZeroText(one.row.excess)" class="quiet over"
          >{{ quantityText(one.row.excess) }} over</small
        ></template
      >
      <template #from="{ row: one }"
        ><span v-if="one.row.suppliers.length"
          >{{ one.row.suppliers.join(', ') }}<small class="quiet over">in {{ one.row.leadDays }} days</small></span
        ><span v-else-if="wantsLook(one.row.notes) === 0" class="tone-attention">nobody</span></template
      >
      <template #each="{ row: one }">{{ one.row.each ? eachText(one.row.each) : '' }}</template>
      <template #paid="{ row: one }">{{ isZeroText(one.row.buy) ? '' : amountText(one.row.amount) }}</template>
      <template #note="{ row: one }"
        ><span :class="tone(one)">{{ one.row.notes[0] ? words(one.row.notes[0]) : '' }}</span
        ><small v-if="one.row.notes.length > 1" class="quiet"> and {{ one.row.notes.length - 1 }} more</small></template
      ></LineTable
    >
    <p v-if="placed.length > shown.length" class="bar">
      <ElButton link data-test="more-parts" @click="most += 400"
        >{{ placed.length - shown.length }} more parts</ElButton
      >
    </p>
  </section>
</template>

<style scoped>
.name {
  color: inherit;
  white-space: normal;
  text-align: left;
  font-weight: 600;
}
.over {
  display: block;
  white-space: nowrap;
}
.find {
  width: 180px;
  margin-left: 14px;
}
</style>
