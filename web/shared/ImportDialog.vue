<script setup lang="ts">
import '#contract/messages/later.ts'
import { ElButton, ElDialog } from 'element-plus'
import { ref, shallowRef } from 'vue'
import type { ImportResult } from '#contract/files/endpoints.ts'
import { upload } from '#web/api.ts'
import FileField from '#web/shared/FileField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { words } from '#web/shared/words.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** Reads a file without loading it, shows every fault by row, and loads all rows or none. */
const props = defineProps<{
  title: string
  what: string
  accept?: string
  send: (fileId: string, dryRun: boolean) => Promise<ImportResult>
}>()
const emit = defineEmits<{ close: [] }>()
const { busy, reasons, run } = useAction()
const fileId = ref('')
const result = shallowRef<ImportResult>()

async function tryOut([file]: readonly File[]): Promise<void> {
  result.value = undefined
  if (file)
    await run(async () => {
      fileId.value = (await upload(file)).id
      result.value = await props.send(fileId.value, true)
    })
}
const load = (): Promise<unknown> =>
  run(async () => {
    result.value = await props.send(fileId.value, false)
  })
</script>

<template>
  <ElDialog :model-value="true" :title="title" width="680px" @close="emit('close')">
    <p>Choose {{ what }}. It is read first without loading anything; then all rows are loaded, or none.</p>
    <p class="choose">
      <FileField
        label="Choose the file"
        :accept="accept ?? '.csv,.txt,text/csv'"
        mark="import-file"
        :busy="busy"
        @choose="tryOut"
      />
    </p>
    <slot name="beside" />
    <ReasonList :reasons="reasons" />
    <p v-if="busy" role="status">Reading …</p>
    <template v-if="result">
      <p role="status" data-test="import-result">
        <b>{{ result.rows }} rows</b> ({{ result.delimiter }}, {{ result.encoding }}): {{ result.good }} good,
        {{ result.faultCount }} faults.
        <template v-if="result.loaded"
          ><b class="tone-settled">{{ result.loaded }} loaded.</b></template
        >
      </p>
      <div v-if="result.faultCount" class="faults">
        <LineTable
          :rows="result.faults"
          :columns="lineColumns({ row: 'Row', column: 'Column', fault: 'What is wrong' })"
          label="What is wrong"
          ><template #row="{ row: fault }">{{ fault.row }}</template>
          <template #column="{ row: fault }">{{ fault.place }}</template>
          <template #fault="{ row: fault }">{{ words(fault) }}</template></LineTable
        >
      </div>
    </template>
    <template #footer
      ><ElButton
        v-if="result && !result.loaded"
        type="primary"
        :disabled="busy || result.faultCount > 0 || result.rows === 0"
        data-test="import-load"
        @click="load"
        >Load {{ result.rows }} rows</ElButton
      ><ElButton @click="emit('close')">{{ result?.loaded ? 'Done' : 'Leave it' }}</ElButton></template
    >
  </ElDialog>
</template>

<style scoped>
.choose {
  margin: 12px 0;
}
.faults {
  max-height: 300px;
  overflow: auto;
}
</style>
