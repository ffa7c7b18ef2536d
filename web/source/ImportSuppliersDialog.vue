<script setup lang="ts">
import '#contract/messages/later.ts'
import { useTimeoutFn } from '@vueuse/core'
import { ElButton, ElCheckbox, ElDialog, ElOption, ElSelect } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import {
  ImportOutcome as Outcome,
  type JobJson,
  LookAtImport,
  ReadJob,
  StartImport,
} from '#contract/source/duplicates.ts'
import { LONG_JOB_GROUPS } from '#core/desk/longJob.ts'
import { isIn } from '#core/states.ts'
import { api, upload } from '#web/api.ts'
import FileField from '#web/shared/FileField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'

import ImportOutcome from '#web/source/ImportOutcome.vue'
import JobProgress from '#web/source/JobProgress.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** Takes in a file of suppliers: which column is which (proposed, with examples), a dry run, then all rows or none. */
const emit = defineEmits<{ close: [] }>()
const { busy, reasons, run } = useAction()
const fileId = ref('')
const seen = shallowRef<ResponseOf<typeof LookAtImport>>()
const mapping = ref<{ column: string; at: number; by: string }[]>([])
const job = shallowRef<JobJson>()
const dry = ref(true)
const withNear = ref(false)
const { start: followOn } = useTimeoutFn(() => void follow(), 400, { immediate: false })

async function look([file]: readonly File[]): Promise<void> {
  seen.value = undefined
  job.value = undefined
  if (!file) return
  await run(async () => {
    fileId.value = (await upload(file)).id
    seen.value = await api(LookAtImport, { body: { fileId: fileId.value } })
    mapping.value = seen.value.mapping.map(one => ({ ...one })).sort((a, b) => Number(b.at >= 0) - Number(a.at >= 0))
  })
}
async function start(dryRun: boolean): Promise<void> {
  dry.value = dryRun
  job.value = await run(() =>
    api(StartImport, {
      body: {
        fileId: fileId.value,
        dryRun,
        withNear: withNear.value,
        mapping: mapping.value.map(one => ({ column: one.column as 'name', at: one.at })),
      },
    }),
  )
  if (job.value) void follow()
}
async function follow(): Promise<void> {
  if (!job.value || isIn(LONG_JOB_GROUPS.ended, job.value.state)) return
  job.value = await api(ReadJob, { params: { id: job.value.id } }).catch(() => job.value)
  followOn()
}
const outcome = computed(() => Outcome.safeParse(job.value?.result).data)
const running = computed(() => job.value && isIn(LONG_JOB_GROUPS.going, job.value.state))
const loadable = computed(
  () =>
    dry.value &&
    outcome.value !== undefined &&
    outcome.value.faultCount === 0 &&
    outcome.value.rows > 0 &&
    (outcome.value.nearCount === 0 || withNear.value),
)
const examples = (at: number): string =>
  at < 0
    ? ''
    : (seen.value?.examples ?? [])
        .map(row => row[at] ?? '')
        .filter(Boolean)
        .slice(0, 3)
        .join(' · ')
</script>

<template>
  <ElDialog :model-value="true" title="Import suppliers" width="760px" @close="emit('close')">
    <p>
      Choose a CSV file or a workbook (XLSX). You say which column is which; it is read first without loading anything;
      then all rows are loaded, or none.
    </p>
    <p class="choose">
      <FileField label="Choose the file" accept=".csv,.txt,.xlsx,text/csv" mark="import-file" @choose="look" />
    </p>
    <template v-if="seen && !job">
      <p>
        <b>{{ seen.rows }} rows</b>. Names and country are needed; the rest is as you like.
      </p>
      <div class="mapping">
        <LineTable
          :rows="mapping"
          :columns="lineColumns({ ours: 'Ours', column: 'Column of the file', examples: 'Examples' })"
          label="Columns of the file"
          :key-of="one => one.column"
          ><template #ours="{ row: one }">{{ laterLabel('import', one.column) }}</template>
          <template #column="{ row: one }">
            <ElSelect
              v-model="one.at"
              size="small"
              style="width: 210px"
              :aria-label="laterLabel('import', one.column)"
              @change="one.by = 'none'"
              ><ElOption :value="-1" label="not in the file" /><ElOption
                v-for="(heading, index) in seen.headings"
                :key="index"
                :value="index"
                :label="heading || `column ${index + 1}`"
            /></ElSelect>
            <span v-if="one.by === 'examples'" class="quiet">by its examples</span>
          </template>
          <template #examples="{ row: one }"
            ><div class="quiet cut">{{ examples(one.at) }}</div></template
          ></LineTable
        >
      </div>
    </template>
    <p v-if="running && job">
      <JobProgress :job="job" /> <span class="quiet">You may close this; it goes on and stands on your Desk.</span>
    </p>
    <p v-else-if="job?.state === 'failed'" class="reasons">{{ job.failure }}</p>
    <ImportOutcome v-else-if="job" :job="job" />
    <ElCheckbox
      v-if="outcome?.nearCount && dry"
      v-model="withNear"
      label="Load them although some look like a record that is here"
      data-test="with-near"
    />
    <ReasonList :reasons="reasons" />
    <template #footer>
      <ElButton v-if="seen && !job" type="primary" :disabled="busy" data-test="import-try" @click="start(true)"
        >Read it without loading</ElButton
      >
      <ElButton v-if="loadable" type="primary" :disabled="busy" data-test="import-load" @click="start(false)"
        >Load {{ outcome?.rows }} rows</ElButton
      >
      <ElButton v-if="job && !running && !outcome?.loaded" @click="job = undefined">Back to the columns</ElButton
      ><ElButton @click="emit('close')">{{ outcome?.loaded ? 'Done' : 'Leave it' }}</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.choose {
  margin: 12px 0;
}
.mapping {
  max-height: 340px;
  overflow: auto;
}
.cut {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
