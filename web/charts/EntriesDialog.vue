<script setup lang="ts">
import { ElDialog } from 'element-plus'
import { onMounted, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadLineEntries } from '#contract/insight/endpoints.ts'
import { api } from '#web/api.ts'
import { label, quantityText, stamp, unit as unitText } from '#web/shared/words.ts'

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
    <table v-else class="lines">
      <thead>
        <tr>
          <th>When</th>
          <th>What</th>
          <th class="num">Quantity, {{ unitText(unit) }}</th>
          <th>From</th>
          <th>Who</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="entry in entries" :key="entry.id">
          <td>{{ stamp(entry.at) }}</td>
          <td>
            {{ label('entry', entry.kind) }}<small v-if="entry.reverses">takes back entry {{ entry.reverses }}</small>
          </td>
          <td class="num">{{ quantityText(entry.quantity) }}</td>
          <td>{{ entry.document }}</td>
          <td>{{ entry.actor }}</td>
        </tr>
      </tbody>
    </table>
  </ElDialog>
</template>
