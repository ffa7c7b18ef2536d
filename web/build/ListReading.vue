<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import type { ReadPartsList } from '#contract/build/costings.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { LIST_FIELDS, type ListField } from '#core/build/listColumns.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { laterLabel } from '#web/shared/laterWords.ts'

/** What was understood of a parts list: which column is which, its first lines, what was left out and what has to be looked at. */
const props = defineProps<{ list: ResponseOf<typeof ReadPartsList> }>()
const emit = defineEmits<{ column: [field: ListField, at: number | null]; firstRow: [row: number] }>()
const width = computed(() => Math.max(props.list.headings.length, ...props.list.examples.map(row => row.length)))
const places = computed(() => Array.from({ length: width.value }, (_one, at) => at))
const fieldAt = (at: number): ListField | '' => LIST_FIELDS.find(field => props.list.columns[field] === at) ?? ''
const change = (at: number, field: ListField | ''): void => {
  const before = fieldAt(at)
  if (field !== '') emit('column', field, at)
  else if (before !== '') emit('column', before, null)
}
const left = computed(() => props.list.skipped.filter(one => one.why !== 'empty'))
</script>

<template>
  <section data-test="list-reading">
    <p role="status">
      <b>{{ list.lines }} lines</b><template v-if="list.deepest > 1"> on {{ list.deepest }} levels</template
      ><template v-if="list.remembered">, columns as confirmed before for this sender</template>.
      <span v-if="left.length" class="quiet"
        >Left out: {{ left.map(one => `row ${one.row} (${laterLabel('left out row', one.why)})`).join(', ') }}.</span
      >
    </p>
    <div class="scroll">
      <table class="lines" aria-label="Columns">
        <thead>
          <tr>
            <th v-for="at in places" :key="at" scope="col">
              <ElSelect
                :model-value="fieldAt(at)"
                size="small"
                clearable
                :value-on-clear="''"
                placeholder="not read"
                :aria-label="`What column ${at + 1} says`"
                :data-test="`column-${at}`"
                @update:model-value="field => change(at, field)"
                ><ElOption
                  v-for="field in LIST_FIELDS"
                  :key="field"
                  :value="field"
                  :label="laterLabel('list column', field)"
              /></ElSelect>
              <small class="quiet">{{ list.headings[at] }}</small>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, index) in list.examples" :key="index">
            <td v-for="at in places" :key="at" :class="{ quiet: fieldAt(at) === '' }">{{ row[at] }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <ReasonList :reasons="list.reasons" />
    <p v-if="list.more" class="quiet">and {{ list.more }} more of these.</p>
  </section>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
  margin-bottom: 8px;
}
th {
  min-width: 120px;
  vertical-align: top;
}
td {
  white-space: nowrap;
}
</style>
