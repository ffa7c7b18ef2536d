<script setup lang="ts">
import { ElDialog } from 'element-plus'
import { onMounted, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadLineEntries } from '#contract/insight/endpoints.ts'
import { api } from '#web/api.ts'
import { label, quantityText, stamp, unit as unitText } from '#web/shared/words.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

const props = defineProps<{ lineId: string; unit: string }>()
const emit = defineEmits<{ close: [] }>()
const entries = shallowRef<ResponseOf<typeof ReadLineEntries>['entries']>()
onMounted(async () => {
  entries.value = (await api(ReadLineEntries, { params: { id: props.lineId } })).entries
})
</script>

<template>
  <ElDialog :model-value="true" title="The entries behind this Gauge" width="620px" @close="emit('close')">
    <p v-if="entries?.length === 0" class="quiet">Nothing is entered for this line yet.</p>
    <LineTable
      v-else
      :rows="entries ?? []"
      :columns="
        lineColumns({
          when: 'When',
          what: 'What',
          '#quantity': `Quantity, ${unitText(unit)}`,
          from: 'From',
          who: 'Who',
        })
      "
      label="Entries"
      :key-of="entry => entry.id"
      ><template #when="{ row: entry }">{{ stamp(entry.at) }}</template>
      <template #what="{ row: entry }">
        {{ label('entry', entry.kind) }}<small v-if="entry.reverses">takes back entry {{ entry.reverses }}</small>
      </template>
      <template #quantity="{ row: entry }">{{ quantityText(entry.quantity) }}</template>
      <template #from="{ row: entry }">{{ entry.document }}</template>
      <template #who="{ row: entry }">{{ entry.actor }}</template></LineTable
    >
  </ElDialog>
</template>
