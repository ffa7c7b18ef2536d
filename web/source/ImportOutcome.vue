<script setup lang="ts">
import '#contract/messages/later.ts'
import { computed } from 'vue'
import { ImportOutcome, type JobJson } from '#contract/source/duplicates.ts'
import { words } from '#web/shared/words.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** What reading or loading a file came to, row by row. */
const props = defineProps<{ job: JobJson }>()
const outcome = computed(() => ImportOutcome.safeParse(props.job.result).data)
</script>

<template>
  <template v-if="outcome">
    <p role="status" data-test="import-result">
      <b>{{ outcome.rows }} rows</b>, {{ outcome.good }} good, {{ outcome.faultCount }} faults,
      {{ outcome.nearCount }} that look like a record that is here, in {{ outcome.seconds }} s.
      <b v-if="outcome.loaded" class="tone-settled">{{ outcome.loaded }} loaded.</b>
    </p>
    <div v-if="outcome.faultCount" class="faults">
      <LineTable
        :rows="outcome.faults"
        :columns="lineColumns({ row: 'Row', column: 'Column', fault: 'What is wrong' })"
        label="What is wrong"
        ><template #row="{ row: fault }">{{ fault.row }}</template>
        <template #column="{ row: fault }">{{ laterLabel('import', fault.place) }}</template>
        <template #fault="{ row: fault }">{{ words(fault) }}</template></LineTable
      >
    </div>
    <div v-if="outcome.nearCount" class="faults">
      <LineTable
        :rows="outcome.near"
        :columns="lineColumns({ row: 'Row', name: 'Name in the file', here: 'Record here', '#sure': 'Sure' })"
        label="Rows that look like a record here"
        :key-of="one => String(one.row)"
        ><template #row="{ row: one }">{{ one.row }}</template>
        <template #name="{ row: one }">{{ one.name }}</template>
        <template #here="{ row: one }">
          {{ one.other }} <span class="quiet">{{ one.number }}</span>
        </template>
        <template #sure="{ row: one }">{{ one.percent }} %</template></LineTable
      >
    </div>
  </template>
</template>

<style scoped>
.faults {
  max-height: 260px;
  overflow: auto;
  margin-top: 8px;
}
</style>
