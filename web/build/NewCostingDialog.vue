<script setup lang="ts">
import '#contract/messages/later.ts'
import { ElAutocomplete, ElButton, ElDialog, ElInput, ElInputNumber } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { CreateCosting, KnownSenders, ReadPartsList } from '#contract/build/costings.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ListField } from '#core/build/listColumns.ts'
import { api, upload } from '#web/api.ts'
import ListReading from '#web/build/ListReading.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FileField from '#web/shared/FileField.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** A parts list is pasted or chosen, its columns are looked at once, and a costing is made of it. */
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const { busy, reasons, run } = useAction()
const { data: known } = useRead(KnownSenders)
const title = ref('')
const sender = ref('')
const pasted = ref('')
const file = shallowRef<{ id: string; name: string }>()
const builds = ref(1)
const list = shallowRef<ResponseOf<typeof ReadPartsList>>()
const stops = computed(() => list.value?.reasons.some(one => one.level === 'stop') ?? true)
const source = () => ({ sender: sender.value, fileId: file.value?.id ?? null, pasted: file.value ? '' : pasted.value })

async function read(how: { columns: Partial<Record<ListField, number>>; firstRow: number } | null): Promise<void> {
  const answer = await run(() => api(ReadPartsList, { body: { ...source(), how } }))
  if (answer) list.value = answer
}
async function choose([chosen]: readonly File[]): Promise<void> {
  if (!chosen) return
  await run(async () => {
    file.value = { id: (await upload(chosen)).id, name: chosen.name }
    if (title.value === '') title.value = chosen.name.replace(/\.\w+$/, '')
  })
  await read(null)
}
function column(field: ListField, at: number | null): void {
  const { [field]: _before, ...others } = list.value!.columns
  // a column says one thing only
  const free = Object.fromEntries(Object.entries(others).filter(([, one]) => one !== at))
  void read({ columns: at === null ? free : { ...free, [field]: at }, firstRow: list.value!.firstRow })
}
async function make(): Promise<void> {
  const { columns, firstRow } = list.value!
  const body = { ...source(), title: title.value, builds: builds.value, how: { columns, firstRow } }
  const made = await run(() => api(CreateCosting, { body }))
  if (made) await router.push(`/source/builds/${made.id}`)
}
const suggest = (text: string, show: (found: { value: string }[]) => void): void =>
  show(
    (known.value?.senders ?? [])
      .filter(one => one.toLowerCase().includes(text.toLowerCase()))
      .map(value => ({ value })),
  )
</script>

<template>
  <ElDialog :model-value="true" title="What does a build cost?" width="860" append-to-body @close="emit('close')">
    <EntryForm :reasons="reasons" :busy="busy" @submit="list && !stops ? make() : read(null)">
      <div class="pair">
        <FormField
          label="Sent by"
          help="Columns and matches that you confirm are remembered for the next list from there."
          ><ElAutocomplete
            v-model="sender"
            :fetch-suggestions="suggest"
            aria-label="Sent by"
            maxlength="200"
            data-test="list-sender"
        /></FormField>
        <FormField label="Title" place="title"
          ><ElInput v-model="title" maxlength="200" data-test="costing-name"
        /></FormField>
        <FormField label="Builds" place="builds"
          ><ElInputNumber
            v-model="builds"
            :min="1"
            :max="1000000000"
            :controls="false"
            aria-label="Builds"
            data-test="new-builds"
        /></FormField>
      </div>
      <FormField
        label="The parts list"
        help="Paste it from a spreadsheet, or choose a workbook or CSV file. Titles, totals and levels may stand in it."
        ><p v-if="file" class="bar">
          <b>{{ file.name }}</b> <ElButton link @click="((file = undefined), (list = undefined))">another</ElButton>
        </p>
        <template v-else
          ><ElInput
            v-model="pasted"
            type="textarea"
            :rows="list ? 4 : 9"
            aria-label="The parts list"
            data-test="paste-list"
            @input="list = undefined" />
          <p class="choose">
            <FileField
              label="Choose a file"
              accept=".csv,.txt,.xlsx"
              mark="list-file"
              :busy="busy"
              @choose="choose"
            /></p></template
      ></FormField>
      <ListReading
        v-if="list"
        :list="list"
        @column="column"
        @first-row="firstRow => read({ columns: list!.columns, firstRow })"
      />
      <p class="bar acts">
        <ElButton
          v-if="!list"
          type="primary"
          native-type="submit"
          :disabled="busy || (pasted.trim() === '' && !file)"
          data-test="read-list"
          >Read it</ElButton
        ><ElButton
          v-else
          type="primary"
          native-type="submit"
          :disabled="busy || stops || title.trim() === ''"
          data-primary
          data-test="make-costing"
          >Cost these {{ list.lines }} lines</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
        <span v-if="list && title.trim() === ''" class="quiet">Give it a title first.</span>
      </p>
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.pair :deep(.el-autocomplete) {
  width: 100%;
}
.choose {
  width: 100%;
  margin: 0;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr 110px;
  gap: 0 16px;
}
@media (max-width: 700px) {
  .pair {
    grid-template-columns: 1fr;
  }
}
</style>
