<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import {
  DropEntry,
  type EntryJson,
  ExportRegister,
  ImportHolidays,
  ImportRegister,
  ReadRegister,
  SaveEntry,
} from '#contract/setup/registers.ts'
import { type Field, type RegisterKey, REGISTERS } from '#core/setup/registers.ts'
import { optionText } from '#web/setup/registerWords.ts'
import { api, pathOf } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import RegisterField from '#web/setup/RegisterField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import ImportDialog from '#web/shared/ImportDialog.vue'
import LineTable from '#web/shared/LineTable.vue'
import type { LineColumn } from '#web/shared/lineTable.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { day } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** A register of the house: its entries, added, changed, closed and dropped one by one, taken in and given out as a file. */
const props = defineProps<{ register: RegisterKey; title: string }>()
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const at = { params: { register: props.register } }
const { data, reload } = useRead(ReadRegister, at)
const calendars = useRead(
  ReadRegister,
  { params: { register: 'calendars' } },
  { when: () => props.register === 'holidays' },
)
const { fields } = REGISTERS[props.register]
const text = ref('')
const edited = shallowRef<EntryJson | 'new'>()
const values = ref<Record<string, string>>({})
const importing = ref<'csv' | 'days'>()
const calendar = ref('HOUSE')
const may = computed(() => session.may('setup.write'))
const shown = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return (data.value?.entries ?? []).filter(entry => {
    const all = fields
      .map(field => `${entry.values[field.key] ?? ''} ${cell(field, entry.values[field.key] ?? '')}`)
      .join(' ')
      .toLowerCase()
    return words.every(word => all.includes(word))
  })
})
/** An IBAN in groups of four, as it is printed (ISO 13616). */
const printed = (iban: string): string => iban.replace(/(.{4})(?=.)/g, '$1 ')
const cell = (field: Field, value: string): string => {
  if (field.type === 'day') return day(value)
  if (field.type === 'iban') return printed(value)
  return field.words && field.words !== 'tax category' && value ? optionText(field, value) : value
}
const COLUMNS: LineColumn[] = [
  ...fields.map(field => ({
    key: field.key,
    label: laterLabel('register field', field.key),
    num: field.type === 'percent' || field.type === 'decimal' || field.key === 'above',
  })),
  { key: 'acts', label: 'Change', said: true, num: true },
]
/** What is said of a field below it: of itself, else of what it holds. */
const helpOf = ({ key, type }: Field): string =>
  [`${props.register}.${key}`, type]
    .map(one => [one, laterLabel('register help', one)] as const)
    .find(([one, said]) => one !== said)?.[1] ?? ''
const fieldOf = (key: string): Field => fields.find(field => field.key === key)!

function edit(entry: EntryJson | 'new'): void {
  clear()
  edited.value = entry
  values.value = Object.fromEntries(
    fields.map(field => [field.key, entry === 'new' ? '' : (entry.values[field.key] ?? '')]),
  )
}
async function save(open = true): Promise<void> {
  const before = edited.value === 'new' ? undefined : edited.value
  const body = { id: before?.id ?? null, version: before?.version ?? 0, values: values.value, open }
  if (await run(() => api(SaveEntry, { ...at, body }))) await done()
}
async function drop(entry: EntryJson): Promise<void> {
  const params = { register: props.register, id: entry.id }
  if (await run(() => api(DropEntry, { params, body: { version: entry.version } }))) await done()
}
async function done(): Promise<void> {
  edited.value = undefined
  await reload()
}
const columns = fields.map(field => field.key.replace(/[A-Z]/g, letter => `_${letter.toLowerCase()}`)).join(', ')
const send = (fileId: string, dryRun: boolean) =>
  importing.value === 'days'
    ? api(ImportHolidays, { body: { fileId, dryRun, calendar: calendar.value } })
    : api(ImportRegister, { ...at, body: { fileId, dryRun } })
</script>

<template>
  <section class="section" :data-test="`register-${register}`">
    <h1>{{ title }}</h1>
    <p class="bar tools">
      <ElInput v-model="text" type="search" class="search" placeholder="Search" :aria-label="`Search ${title}`" />
      <ElButton v-if="may" type="primary" data-test="new-entry" @click="edit('new')">Add one</ElButton>
      <ElButton v-if="may" link data-test="import-register" @click="importing = 'csv'">Take in a file</ElButton>
      <ElButton v-if="may && register === 'holidays'" link data-test="import-days" @click="importing = 'days'"
        >Take in an iCalendar file</ElButton
      >
      <a :href="pathOf(ExportRegister, { register })" download>CSV</a>
    </p>
    <p v-if="data && shown.length === 0" class="empty">
      {{ text ? 'None of them has these words.' : 'Nothing is entered yet. Add one, or take in a file.' }}
    </p>
    <LineTable
      v-else
      :rows="shown"
      :columns="COLUMNS"
      :label="title"
      :key-of="entry => entry.id"
      :off="entry => !entry.open"
    >
      <template #cell="{ row: entry, column }">{{
        cell(fieldOf(column.key), entry.values[column.key] ?? '')
      }}</template>
      <template #acts="{ row: entry }"
        ><span v-if="!entry.open" class="quiet">closed </span
        ><ElButton v-if="may" link :data-test="`entry-${entry.values.code ?? ''}`" @click="edit(entry)"
          >change</ElButton
        ></template
      >
    </LineTable>
    <ElDialog
      v-if="edited"
      :model-value="true"
      :title="edited === 'new' ? `${title}: a new one` : title"
      width="520px"
      @close="edited = undefined"
    >
      <EntryForm :reasons="reasons" :busy="busy" columns @submit="save()">
        <FormField
          v-for="field in fields"
          :key="field.key"
          :label="laterLabel('register field', field.key)"
          :place="field.key"
          :help="helpOf(field)"
          ><RegisterField v-model="values[field.key]!" :field="field"
        /></FormField>
        <template #acts
          ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-entry">{{
            edited !== 'new' && !edited.open ? 'Keep and open it again' : 'Keep it'
          }}</ElButton
          ><template v-if="edited !== 'new'"
            ><ElButton v-if="edited.open" :disabled="busy" data-test="close-entry" @click="save(false)"
              >Close it</ElButton
            ><ElButton
              v-if="edited.pointed === 0"
              :disabled="busy"
              type="danger"
              data-test="drop-entry"
              @click="drop(edited)"
              >Drop it</ElButton
            ><span v-else class="quiet">{{ edited.pointed }} others point to it.</span></template
          ><ElButton @click="edited = undefined">Leave it</ElButton></template
        >
      </EntryForm>
    </ElDialog>
    <p v-if="importing === 'days'" class="bar">
      <FormField label="For the calendar"
        ><ElSelect v-model="calendar" data-test="days-calendar"
          ><ElOption
            v-for="one in calendars.data.value?.entries.filter(entry => entry.open)"
            :key="one.id"
            :value="one.values.code!"
            :label="one.values.name!" /></ElSelect
      ></FormField>
    </p>
    <ImportDialog
      v-if="importing"
      title="Take in a file"
      :what="
        importing === 'days'
          ? `an iCalendar file; its days become holidays of the calendar ${calendar}`
          : `a CSV file with the columns ${columns}; what is there already is changed`
      "
      :accept="importing === 'days' ? '.ics,text/calendar' : '.csv,.txt,text/csv'"
      :send="send"
      @close="((importing = undefined), reload())"
    />
  </section>
</template>

<style scoped>
.tools {
  margin: 12px 0;
}
.search {
  max-width: 280px;
}
</style>
