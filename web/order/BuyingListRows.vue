<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { ref } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ChangeBuyingList, ReadBuyingList } from '#contract/order/buyingLists.ts'
import type { ListColumn } from '#core/order/buyingList.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { useRowsInSight } from '#web/shared/table/useRowsInSight.ts'
import { day, priceText, words } from '#web/shared/words.ts'

/** Rows of a list of goods to be ordered: only those in sight are drawn. What is open is written where it stands. */
type Row = ResponseOf<typeof ReadBuyingList>['rows'][number]
const props = defineProps<{ rows: readonly Row[]; busy: boolean }>()
const emit = defineEmits<{ change: [rows: BodyOf<typeof ChangeBuyingList>['rows']] }>()
const scroller = ref<HTMLElement>()
const HEIGHT = 64
const { shown: seats, before, after } = useRowsInSight(scroller, () => props.rows, HEIGHT)
const typed = ref<Record<string, string>>({})
const COLUMNS = [
  ['supplier', 190],
  ['item', 90],
  ['quantity', 70],
  ['unit', 55],
  ['price', 80],
  ['currency', 55],
  ['need_by', 100],
  ['place', 165],
  ['cost_centre', 80],
  ['account', 65],
] as const satisfies readonly (readonly [ListColumn, number])[]
const key = (row: Row, column: string): string => `${row.row} ${column}`
const open = (row: Row): boolean => row.state === 'ready' || row.state === 'refused'
const faulty = (row: Row, column: string): boolean =>
  row.reasons.some(one => (one.place ?? '').split('.').at(-1) === column)
function correct(row: Row, column: ListColumn): void {
  const value = typed.value[key(row, column)]
  if (value !== undefined && value !== (row.cells[column] ?? ''))
    emit('change', [{ row: row.row, cells: { [column]: value } }])
}
const takePast = (row: Row): void =>
  emit('change', [
    { row: row.row, cells: { price: row.past!.price, price_base: row.past!.priceBase, currency: row.past!.currency } },
  ])
</script>

<template>
  <div ref="scroller" class="rows-scroll" tabindex="0" role="region" aria-label="Rows" data-test="list-rows">
    <table class="lines">
      <thead>
        <tr>
          <th scope="col">Row</th>
          <th v-for="[column] in COLUMNS" :key="column" scope="col">{{ laterLabel('listed column', column) }}</th>
          <th scope="col">How it stands</th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="before > 0" aria-hidden="true">
          <td :colspan="COLUMNS.length + 2" :style="{ height: `${before}px` }" />
        </tr>
        <template v-for="{ row } in seats" :key="row.row">
          <tr class="written" :data-test="`list-row-${row.row}`">
            <td class="unit" rowspan="2">{{ row.row }}</td>
            <td v-for="[column, width] in COLUMNS" :key="column">
              <ElInput
                v-if="open(row)"
                size="small"
                :class="{ faulty: faulty(row, column) }"
                :style="{ width: `${width}px` }"
                :model-value="typed[key(row, column)] ?? row.cells[column] ?? ''"
                :aria-label="`${laterLabel('listed column', column)}, row ${row.row}`"
                :aria-invalid="faulty(row, column)"
                :disabled="busy"
                :data-test="`cell-${row.row}-${column}`"
                @update:model-value="typed[key(row, column)] = $event"
                @keydown.enter="correct(row, column)"
                @change="correct(row, column)"
              /><template v-else>{{ row.cells[column] }}</template>
            </td>
            <td rowspan="2">
              <RouterLink v-if="row.order" :to="row.order.path" class="tone-settled">{{
                row.order.number
              }}</RouterLink><span
                v-else
                :class="{ 'tone-stop': row.state === 'refused', quiet: row.state === 'left' }"
                >{{ laterLabel('listed row', row.state) }}</span
              >
              <ElButton
                v-if="!row.order"
                link
                size="small"
                :disabled="busy"
                :data-test="`leave-${row.row}`"
                @click="emit('change', [{ row: row.row, left: row.state !== 'left' }])"
                >{{ row.state === 'left' ? 'take it in' : 'leave it out' }}</ElButton
              >
            </td>
          </tr>
          <tr class="beside">
            <td :colspan="COLUMNS.length" class="quiet">
              <span v-for="reason in row.reasons" :key="reason.code + reason.place" class="tone-stop"
                >{{ words(reason) }}
              </span>
              {{ row.what
              }}<template v-if="row.past"
                >{{ row.what && '. ' }}Bought last for {{ priceText(row.past.price) }} {{ row.past.currency }} from
                {{ row.past.supplier }},
                <RouterLink :to="row.past.path">{{ row.past.order }}</RouterLink>
                {{ day(row.past.on)
                }}<span
                  v-if="row.past.percent && row.past.percent !== '0'"
                  :class="{ 'tone-attention': !row.past.percent.startsWith('-') }"
                  >, now {{ row.past.percent.replace('-', '') }} %
                  {{ row.past.percent.startsWith('-') ? 'cheaper' : 'dearer' }}</span
                >
                <ElButton
                  v-if="open(row) && row.past.percent !== '0'"
                  link
                  size="small"
                  :disabled="busy"
                  @click="takePast(row)"
                  >take that price</ElButton
                ></template
              >
            </td>
          </tr>
        </template>
        <tr v-if="after > 0" aria-hidden="true">
          <td :colspan="COLUMNS.length + 2" :style="{ height: `${after}px` }" />
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
td {
  vertical-align: top;
}
.written td:not([rowspan]) {
  border-bottom: 0;
  padding-bottom: 0;
}
.beside td {
  padding-top: 0;
  padding-bottom: 6px;
  white-space: nowrap;
}
.faulty :deep(.el-input__wrapper) {
  box-shadow: 0 0 0 1px var(--madder) inset;
}
</style>
