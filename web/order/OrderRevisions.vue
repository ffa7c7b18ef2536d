<script setup lang="ts">
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { OrderPdf, OrderUbl, type ReadOrder } from '#contract/order/endpoints.ts'
import { pathOf } from '#web/api.ts'
import DifferenceList from '#web/order/DifferenceList.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import LineTable from '#web/shared/LineTable.vue'
import { amountText, since } from '#web/shared/words.ts'

/** Every revision of an order, the latest first, with what it changed and its documents. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadOrder> }>()
const revisions = computed(() => [...props.sheet.revisions].reverse())
const COLUMNS = lineColumns({ revision: 'Revision', changes: 'Changes', '#total': 'Total', files: 'Documents' })
</script>

<template>
  <section class="section">
    <h2>Revisions</h2>
    <LineTable :rows="revisions" :columns="COLUMNS" label="Revisions" bare :key-of="one => String(one.revision)">
      <template #revision="{ row: one }"
        ><b>Revision {{ one.revision }}</b
        ><small>{{ one.revision === sheet.revision ? 'the current one' : 'superseded' }}</small></template
      >
      <template #changes="{ row: one }"
        >{{ one.by }}, {{ since(one.issuedAt) }}<small v-if="one.reason">“{{ one.reason }}”</small
        ><DifferenceList v-if="one.differences.length" :differences="one.differences"
      /></template>
      <template #total="{ row: one }"
        >{{ amountText(one.total) }} <span class="unit">{{ sheet.currency }}</span></template
      >
      <template #files="{ row: one }"
        ><span class="nowrap"
          ><a :href="pathOf(OrderPdf, { id: sheet.id, revision: one.revision })" target="_blank">PDF</a>
          <a :href="pathOf(OrderUbl, { id: sheet.id, revision: one.revision })" download>UBL</a></span
        ></template
      >
    </LineTable>
  </section>
</template>

<style scoped>
.nowrap {
  white-space: nowrap;
}
</style>
