<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { ref } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ChangeReturn, ReadReturn } from '#contract/order/workbook.ts'
import { type WorkbookField } from '#core/order/workbook.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { useRowsInSight } from '#web/shared/table/useRowsInSight.ts'
import { day, words } from '#web/shared/words.ts'

/** Rows of a workbook that came back: only those in sight are drawn. A refused one is corrected where it stands. */
type Row = ResponseOf<typeof ReadReturn>['rows'][number]
const props = defineProps<{ rows: readonly Row[]; open: boolean; busy: boolean }>()
const emit = defineEmits<{ change: [rows: BodyOf<typeof ChangeReturn>['rows']] }>()
const scroller = ref<HTMLElement>()
const HEIGHT = 52
const { shown: seats, before, after } = useRowsInSight(scroller, () => props.rows, HEIGHT)
const typed = ref<Record<string, string>>({})
const key = (row: Row, field: string): string => `${row.row} ${field}`
const shown = (field: WorkbookField, value: string): string =>
  value === ''
    ? 'nothing'
    : field === 'needBy' || field === 'promised'
      ? /^\d{4}-\d{2}-\d{2}$/.test(value)
        ? day(value)
        : value
      : field === 'act'
        ? laterLabel('workbook act', value)
        : value
function correct(row: Row, field: WorkbookField): void {
  const value = typed.value[key(row, field)]
  if (value !== undefined) emit('change', [{ row: row.row, values: { [field]: value } }])
}
</script>

<template>
  <div ref="scroller" class="rows-scroll" tabindex="0" role="region" aria-label="Rows" data-test="return-rows">
    <table class="lines">
      <thead>
        <tr>
          <th scope="col">Order</th>
          <th scope="col">What</th>
          <th scope="col">What changes</th>
          <th scope="col">How it stands</th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="before > 0" aria-hidden="true">
          <td colspan="4" :style="{ height: `${before}px` }" />
        </tr>
        <tr v-for="{ row } in seats" :key="row.row" :data-test="`return-${row.order}-${row.position}`">
          <td>
            <RouterLink v-if="row.orderPath" :to="row.orderPath">{{ row.order }}</RouterLink><small>{{
              row.position ? `line ${row.position}` : `row ${row.row}`
            }}</small>
          </td>
          <td>
            {{ row.what }}<small>{{ row.supplier }}</small>
          </td>
          <td>
            <span v-for="one in row.changes" :key="one.field" class="change"
              >{{ laterLabel('workbook field', one.field) }} <del>{{ shown(one.field, one.before) }}</del> →
              <template v-if="row.state === 'refused' && open"
                ><ElInput
                  class="cell"
                  size="small"
                  :model-value="typed[key(row, one.field)] ?? one.after"
                  :aria-label="`${laterLabel('workbook field', one.field)}, ${row.order} line ${row.position}`"
                  :disabled="busy"
                  @update:model-value="typed[key(row, one.field)] = $event"
                  @keydown.enter="correct(row, one.field)"
                  @change="correct(row, one.field)" /></template
              ><b v-else>{{ shown(one.field, one.after) }}</b
              ><span v-if="row.state === 'conflict' && one.now !== one.before" class="tone-attention">
                now {{ shown(one.field, one.now) }}</span
              ></span
            >
            <span v-if="!row.changes.length" class="quiet">nothing</span>
          </td>
          <td>
            <span
              :class="{
                'tone-settled': row.state === 'settled',
                'tone-attention': row.state === 'conflict',
                'tone-stop': row.state === 'refused',
              }"
              >{{ laterLabel('returned row', row.state) }}</span><small
              v-for="reason in row.reasons"
              :key="reason.code"
              >{{ words(reason) }}</small
            ><span v-if="row.state === 'conflict' && open" class="bar"
              ><ElButton
                link
                :disabled="busy"
                :data-test="`file-${row.order}`"
                @click="emit('change', [{ row: row.row, choice: 'file' }])"
                >as in the file</ElButton
              ><ElButton
                link
                :disabled="busy"
                :data-test="`now-${row.order}`"
                @click="emit('change', [{ row: row.row, choice: 'now' }])"
                >as it is now</ElButton
              ></span
            >
          </td>
        </tr>
        <tr v-if="after > 0" aria-hidden="true">
          <td colspan="4" :style="{ height: `${after}px` }" />
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.change {
  display: block;
}
.cell {
  width: 130px;
}
del {
  color: var(--ink-quiet);
}
</style>
