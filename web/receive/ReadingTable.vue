<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { failsIn, isMeasured, lookedAt, type Reading } from '#core/receive/inspection.ts'
import type { Characteristic } from '#core/receive/terms.ts'
import LineTable from '#web/shared/LineTable.vue'
import NumberField from '#web/shared/NumberField.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { quantityText } from '#web/shared/words.ts'

/** What each piece showed that was looked at; what is outside its limits is said so beside it. */
const props = defineProps<{
  readings: readonly Reading[]
  characteristics: readonly Characteristic[]
  closed?: boolean
}>()
const emit = defineEmits<{ change: [readings: Reading[]] }>()
const all = computed(() => lookedAt(props.characteristics))
const limits = ({ unit, low, high }: Characteristic): string =>
  [low && `from ${quantityText(low)}`, high && `to ${quantityText(high)}`, unit].filter(Boolean).join(' ')
const columns = computed(() =>
  lineColumns({
    number: 'Piece',
    ...Object.fromEntries(
      all.value.map((one, index) => [`c${index}`, [one.name, limits(one)].filter(Boolean).join(', ')]),
    ),
    ...(props.closed ? {} : { out: '' }),
  }),
)
const rows = computed(() => props.readings.map((reading, index) => ({ index, reading })))
const set = (row: number, name: string, value: string): void =>
  emit(
    'change',
    props.readings.map((one, index) => (index === row ? { ...one, [name]: value } : one)),
  )
</script>

<template>
  <LineTable :rows="rows" :columns="columns" label="What each piece showed" :key-of="row => String(row.index)"
    ><template #number="{ row }">{{ row.index + 1 }}</template
    ><template v-for="(one, index) in all" :key="one.name" #[`c${index}`]="{ row }"
      ><span v-if="closed" :class="{ 'tone-stop': failsIn(one, row.reading[one.name] ?? '') }">{{
        isMeasured(one)
          ? quantityText(row.reading[one.name] ?? '')
          : row.reading[one.name] === 'fail'
            ? 'fails'
            : 'passes'
      }}</span
      ><NumberField
        v-else-if="isMeasured(one)"
        :model-value="row.reading[one.name] ?? ''"
        :label="`${one.name} of piece ${row.index + 1}`"
        width="110px"
        :data-test="`reading-${row.index}-${index}`"
        @update:model-value="set(row.index, one.name, $event)"
      /><ElSelect
        v-else
        :model-value="row.reading[one.name] ?? 'pass'"
        :aria-label="`${one.name} of piece ${row.index + 1}`"
        :data-test="`reading-${row.index}-${index}`"
        style="width: 110px"
        @update:model-value="set(row.index, one.name, $event)"
        ><ElOption value="pass" label="passes" /><ElOption value="fail" label="fails" /></ElSelect
      ><small v-if="failsIn(one, row.reading[one.name] ?? '') && isMeasured(one)" class="tone-stop"
        >outside</small
      ></template
    ><template #out="{ row }"
      ><ElButton
        link
        :aria-label="`Take piece ${row.index + 1} out`"
        @click="
          emit(
            'change',
            readings.filter((_one, index) => index !== row.index),
          )
        "
        >Take out</ElButton
      ></template
    ></LineTable
  >
</template>
