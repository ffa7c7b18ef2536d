<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadChoices } from '#contract/request/endpoints.ts'
import { type ReadEvent, TakeLines } from '#contract/source/events.ts'
import { api, upload } from '#web/api.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FileField from '#web/shared/FileField.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import UnitField from '#web/shared/UnitField.vue'
import { useAction } from '#web/shared/useAction.ts'
import EventLineMore from '#web/source/EventLineMore.vue'

/** Lines and lots of a draft: typed, taken from a file, or pasted. */
type Sheet = ResponseOf<typeof ReadEvent>
const props = defineProps<{ sheet: Sheet; choices: ResponseOf<typeof ReadChoices> | undefined }>()
const emit = defineEmits<{ taken: [] }>()
const lines = defineModel<Sheet['body']['lines']>('lines', { required: true })
const lots = defineModel<Sheet['body']['lots']>('lots', { required: true })
const { busy, reasons, run, clear } = useAction()
const taking = ref(false)
const pasted = ref('')
const opened = ref('')
const openedAt = computed(() => lines.value.findIndex(one => one.id === opened.value))
const lotAt = computed(() =>
  Math.max(
    0,
    lots.value.findIndex(one => one.id === lines.value[openedAt.value]?.lotId),
  ),
)

const add = (): void =>
  void lines.value.push({
    id: crypto.randomUUID(),
    lotId: lots.value.at(-1)!.id,
    itemId: null,
    category: '',
    description: '',
    quantity: '1',
    unit: 'C62',
    needBy: null,
    addressId: null,
    incoterm: null,
    incotermPlace: '',
    reference: '',
    referenceFrom: null,
    accountId: null,
    texts: {},
  })
const addLot = (): void =>
  void lots.value.push({
    ...structuredClone(JSON.parse(JSON.stringify(lots.value.at(-1)!)) as Sheet['body']['lots'][number]),
    id: crypto.randomUUID(),
    title: `Lot ${lots.value.length + 1}`,
    lineCeilings: {},
  })
function dropLine(id: string): void {
  lines.value = lines.value.filter(one => one.id !== id)
}
async function take(fileId: string | null): Promise<void> {
  const body = { version: props.sheet.version, fileId, pasted: fileId === null ? pasted.value : '' }
  if (!(await run(() => api(TakeLines, { params: { id: props.sheet.id }, body })))) return
  taking.value = false
  pasted.value = ''
  emit('taken')
}
async function file([chosen]: File[]): Promise<void> {
  const kept = await run(() => upload(chosen!))
  if (kept) await take(kept.id)
}
/** What was said about a line beside its columns, so that nobody has to open it to see. */
const moreSaid = (line: Sheet['body']['lines'][number]): string =>
  [line.incoterm, props.choices?.addresses.find(one => one.id === line.addressId)?.label].filter(Boolean).join(', ')
const requestOf = (id: string): string | null => props.sheet.lineFacts.find(one => one.id === id)?.request ?? null
</script>

<template>
  <h2>What is asked</h2>
  <p v-if="lots.length > 1" class="bar lots">
    <ElInput v-for="lot in lots" :key="lot.id" v-model="lot.title" :aria-label="`Title of ${lot.title}`" class="lot" />
  </p>
  <LineTable
    v-if="lines.length"
    :rows="lines"
    :columns="
      lineColumns({
        what: 'What',
        quantity: 'How many',
        ...(lots.length > 1 ? { lot: 'Lot' } : {}),
        needBy: 'Needed by',
        reference: 'Reference price',
        '-acts': 'Acts',
      })
    "
    label="Lines"
    :key-of="line => line.id"
    ><template #what="{ row: line, index }"
      ><ElInput
        v-model="line.description"
        :aria-label="`What, line ${index + 1}`"
        :data-place="`lines.${line.id}.description`"
        :data-test="`line-what-${index}`"
      /><small v-if="requestOf(line.id)">from {{ requestOf(line.id) }}</small></template
    >
    <template #quantity="{ row: line, index }"
      ><span class="bar with-unit" :data-place="`lines.${line.id}.quantity`"
        ><NumberField v-model="line.quantity" :label="`How many, line ${index + 1}`" width="80px" /><UnitField
          v-model="line.unit"
          :label="`Unit, line ${index + 1}`" /></span
    ></template>
    <template #lot="{ row: line, index }"
      ><ElSelect v-model="line.lotId" :aria-label="`Lot of line ${index + 1}`"
        ><ElOption v-for="lot in lots" :key="lot.id" :value="lot.id" :label="lot.title" /></ElSelect
    ></template>
    <template #needBy="{ row: line, index }"
      ><DayField v-model="line.needBy" :label="`Needed by, line ${index + 1}`" empty="open"
    /></template>
    <template #reference="{ row: line, index }"
      ><NumberField v-model="line.reference" :label="`Reference price, line ${index + 1}`" width="90px" /><small
        v-if="line.referenceFrom"
        >{{ line.referenceFrom === 'lastPaid' ? 'last paid' : 'estimate' }}</small
      ></template
    >
    <template #acts="{ row: line, index }"
      ><span class="line-acts"
        ><ElButton
          link
          :aria-label="`More about line ${index + 1}`"
          :data-test="`line-more-${index}`"
          @click="opened = line.id"
          >{{ moreSaid(line) || 'more' }}</ElButton
        ><ElButton link :aria-label="`Take out line ${index + 1}`" @click="dropLine(line.id)">take out</ElButton></span
      ></template
    ></LineTable
  >
  <p v-else class="empty">Nothing is asked yet: add a line, or take a list from a file.</p>
  <p class="bar adding">
    <ElButton data-test="add-line" @click="add">Add a line</ElButton
    ><ElButton link data-test="add-lot" @click="addLot">add a lot</ElButton
    ><ElButton
      link
      data-test="take-lines"
      @click="
        () => {
          clear()
          taking = true
        }
      "
      >from a list</ElButton
    >
  </p>
  <EventLineMore
    v-if="openedAt >= 0"
    v-model="lines[openedAt]!"
    :sheet="sheet"
    :choices="choices"
    v-model:lot="lots[lotAt]!"
    @close="opened = ''"
  />
  <ElDialog v-model="taking" title="Lines from a list" width="560" append-to-body>
    <EntryForm :reasons="reasons" :busy="busy" @submit="take(null)">
      <p>
        A workbook or delimited file whose first row says description, quantity and, where they are known, unit, need
        by, reference and category; or the same, pasted here.
      </p>
      <FileField label="Choose a file" accept=".xlsx,.csv,.tsv,.txt" :busy="busy" mark="lines-file" @choose="file" />
      <FormField label="Or paste"
        ><ElInput v-model="pasted" type="textarea" :rows="6" data-test="paste-lines"
      /></FormField>
      <p class="bar">
        <ElButton type="primary" native-type="submit" :disabled="busy || pasted.trim() === ''">Take them</ElButton
        ><ElButton @click="taking = false">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.adding,
.lots {
  margin: 8px 0 16px;
}
.lot {
  max-width: 220px;
}
.line-acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
}
.line-acts .el-button {
  min-height: 26px;
  margin: 0;
}
.with-unit {
  gap: 4px;
  flex-wrap: nowrap;
}
</style>
