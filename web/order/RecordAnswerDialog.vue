<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { reactive, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadAnswerFile, type ReadOrder, RecordAnswer } from '#contract/order/endpoints.ts'
import { asWanted } from '#core/order/revision.ts'
import { api } from '#web/api.ts'
import AnswerDays from '#web/order/AnswerDays.vue'
import AnswerFromFile from '#web/order/AnswerFromFile.vue'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import type { Told } from '#web/shared/told.ts'
import ToldFields from '#web/shared/ToldFields.vue'
import { useAction } from '#web/shared/useAction.ts'
import { quantityText, unit } from '#web/shared/words.ts'
import type { LineAnswer } from '#web/order/lineAnswer.ts'

/** What a supplier said by telephone or mail is typed in for it, or filled in from its file; it counts as its answer. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadOrder> }>()
const emit = defineEmits<{ close: []; changed: [] }>()
const session = useSession()
const { busy, reasons, run } = useAction()
const told = ref<Told>({ who: '', on: session.today, how: 'telephone' })
const note = ref('')
const lines = props.sheet.lines.filter(line => Number(line.quantity) > 0)
const answers = reactive<Record<string, LineAnswer>>(
  Object.fromEntries(
    lines.map(line => {
      const { lineId, ...answer } = asWanted({ ...line, lineId: line.id }, session.today)
      return [lineId, answer]
    }),
  ),
)
const COLUMNS = lineColumns({
  '-position': 'Position',
  what: 'What',
  '#quantity': 'Quantity',
  '#price': `Unit price, ${props.sheet.currency}`,
  '#date': 'Their date',
})
const read = (text: string) => api(ReadAnswerFile, { params: { id: props.sheet.id }, body: { text } })
function fill(answer: ResponseOf<typeof ReadAnswerFile>): void {
  for (const { lineId, ...line } of answer.lines) answers[lineId] = line
  note.value ||= answer.note
  if (told.value.how === 'telephone') told.value.how = 'mail'
}
async function go(): Promise<void> {
  const { id, version, revision } = props.sheet
  const body = {
    version,
    revision,
    note: note.value,
    told: { ...told.value, on: told.value.on ?? session.today },
    lines: lines.map(line => ({ lineId: line.id, ...answers[line.id]! })),
  }
  if (!(await run(() => api(RecordAnswer, { params: { id }, body })))) return
  emit('changed')
  emit('close')
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="`What ${sheet.supplier} answered`"
    width="820px"
    append-to-body
    @close="emit('close')"
  >
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="go">
      <p class="whole">
        It counts like an answer on the supplier’s own pages: in full it confirms, otherwise it waits for you. Who said
        it is kept with it.
      </p>
      <ToldFields v-model="told" who="Who said it" />
      <AnswerFromFile class="whole" :read="read" :revision="sheet.revision" @read="fill" />
      <LineTable class="whole" :rows="lines" :columns="COLUMNS" label="Lines" :key-of="line => line.id">
        <template #position="{ row: line }"
          ><span class="unit">{{ line.position }}</span></template
        >
        <template #what="{ row: line }"
          >{{ line.description
          }}<small>ordered {{ quantityText(line.quantity) }} {{ unit(line.unit) }}</small></template
        >
        <template #quantity="{ row: line }"
          ><NumberField
            v-model="answers[line.id]!.quantity"
            :label="`Quantity of line ${line.position}`"
            width="90px"
            :disabled="Boolean(answers[line.id]!.parts)"
            :data-test="`told-quantity-${line.position}`"
        /></template>
        <template #price="{ row: line }"
          ><NumberField v-model="answers[line.id]!.price" :label="`Price of line ${line.position}`" width="110px"
        /></template>
        <template #date="{ row: line }"
          ><AnswerDays
            v-model="answers[line.id]!"
            :label="`Date of line ${line.position}`"
            :unit="line.unit"
            :mark="`told-${line.position}`"
        /></template>
      </LineTable>
      <FormField label="A word from them" whole
        ><ElInput v-model="note" type="textarea" :rows="2" maxlength="4000"
      /></FormField>
      <p class="bar whole">
        <ElButton type="primary" native-type="submit" :disabled="busy" data-test="record-answer">Record it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>
