<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElRadioButton, ElRadioGroup, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { EndReturn, ReadReturns, ReturnPaper, SaveReturn } from '#contract/receive/returns.ts'
import { api, pathOf } from '#web/api.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, label, quantityText, since, unit } from '#web/shared/words.ts'

/** What went back of an order, and what can: counts, pieces, the reason, what is wanted instead. */
const props = defineProps<{ orderId: string }>()
const emit = defineEmits<{ changed: [] }>()
const { data, reload } = useRead(ReadReturns, () => ({ params: { id: props.orderId } }))
const { busy, reasons, run, clear } = useAction()
type Return = ResponseOf<typeof ReadReturns>['returns'][number]
const writes = ref<{ id: string | null; version: number }>()
const form = reactive({
  reason: '',
  supplierNumber: '',
  wish: 'replacement' as 'replacement' | 'credit',
  pickUpOn: null as string | null,
  carrier: '',
})
const quantities = reactive<Record<string, string>>({})
const pieces = reactive<Record<string, string[]>>({})
const ends = ref<{ one: Return; how: 'settle' | 'withdraw' }>()
const made = ref('')
const lines = computed(() =>
  (data.value?.returnable ?? [])
    .map(part => ({
      partId: part.partId,
      lineId: part.lineId,
      pieces: pieces[part.partId] ?? [],
      quantity: part.becomes === 'asset' ? String((pieces[part.partId] ?? []).length) : (quantities[part.partId] ?? ''),
    })) // prettier-ignore
    .filter(one => Number(one.quantity) > 0),
)
function write(one?: Return): void {
  clear()
  for (const key of Object.keys(quantities)) delete quantities[key]
  for (const key of Object.keys(pieces)) delete pieces[key]
  Object.assign(
    form,
    one
      ? {
          reason: one.reason,
          supplierNumber: one.supplierNumber,
          wish: one.wish,
          pickUpOn: one.pickUpOn,
          carrier: one.carrier,
        }
      : { reason: '', supplierNumber: '', wish: 'replacement', pickUpOn: null, carrier: '' },
  )
  for (const line of one?.lines ?? []) {
    quantities[line.partId] = line.quantity
    pieces[line.partId] = [...line.pieces]
  }
  writes.value = { id: one?.id ?? null, version: one?.version ?? 0 }
}
async function keep(send: boolean): Promise<void> {
  const { id: returnId, version } = writes.value!
  const body = { returnId, version, send, entry: { ...form, lines: lines.value } }
  const done = await run(() => api(SaveReturn, { params: { id: props.orderId }, body }))
  if (!done) return
  made.value = done.debitNumber
    ? `${done.number} has gone. Debit note ${done.debitNumber} is made.`
    : send
      ? `${done.number} has gone.`
      : ''
  writes.value = undefined
  await changed()
}
async function end(reason: string): Promise<void> {
  const { one, how } = ends.value!
  if (!(await run(() => api(EndReturn, { params: { id: one.id }, body: { version: one.version, how, reason } }))))
    return
  ends.value = undefined
  await changed()
}
async function changed(): Promise<void> {
  await reload()
  emit('changed')
}
</script>

<template>
  <section
    v-if="data && (data.returns.length || (data.mayReturn && data.returnable.length))"
    class="section"
    data-test="returns"
  >
    <h2>Going back</h2>
    <p v-if="made" class="tone-settled" role="status" data-test="return-made">{{ made }}</p>
    <p v-for="one in data.returns" :key="one.id" class="return">
      <span
        ><b>{{ one.number }}</b> {{ label('state', one.state) }},
        {{ one.wish === 'credit' ? 'to be credited' : 'to be replaced'
        }}<small
          >“{{ one.reason }}” {{ one.by }}, {{ since(one.at)
          }}<template v-if="one.debitNumber"
            >. Debit note {{ one.debitNumber }}: {{ one.currency }} {{ amountText(one.debitNet) }} net</template
          ></small
        ></span
      >
      <span class="acts"
        ><template v-if="one.state === 'draft'"
          ><ElButton link @click="write(one)">Write on</ElButton
          ><ElButton
            link
            @click="
              () => {
                clear()
                ends = { one, how: 'withdraw' }
              }
            "
            >It stays</ElButton
          ></template
        ><template v-else
          ><a :href="pathOf(ReturnPaper, { id: one.id, paper: 'note' })" target="_blank">note</a>
          <a :href="pathOf(ReturnPaper, { id: one.id, paper: 'label' })" target="_blank">label</a>
          <a :href="pathOf(ReturnPaper, { id: one.id, paper: 'ubl' })" download>UBL</a>
          <a v-if="one.debitNumber" :href="pathOf(ReturnPaper, { id: one.id, paper: 'debit' })" target="_blank"
            >debit note</a
          ><ElButton
            v-if="one.state === 'sent' && data.mayReturn"
            link
            :data-test="`settle-${one.number}`"
            @click="
              () => {
                clear()
                ends = { one, how: 'settle' }
              }
            "
            >Settled</ElButton
          ></template
        ></span
      >
    </p>
    <p v-if="data.mayReturn && data.returnable.length">
      <ElButton data-test="return" @click="write()">Send something back</ElButton>
    </p>
    <ElDialog v-if="writes" :model-value="true" title="Send something back" width="700px" @close="writes = undefined">
      <EntryForm :reasons="reasons" :busy="busy" @submit="keep(true)">
        <LineTable
          :rows="data.returnable"
          :columns="lineColumns({ what: 'What', '#left': 'Here', '#back': 'Goes back' })"
          label="What goes back"
          :key-of="part => part.partId"
          ><template #what="{ row: part }"
            >{{ part.description
            }}<small>{{
              [
                part.receipt,
                part.detail,
                part.notAccepted === '0' ? '' : `${quantityText(part.notAccepted)} not found good`,
              ]
                .filter(Boolean)
                .join(', ')
            }}</small></template
          ><template #left="{ row: part }">{{ quantityText(part.left) }} {{ unit(part.unit) }}</template
          ><template #back="{ row: part }"
            ><ElSelect
              v-if="part.becomes === 'asset'"
              v-model="pieces[part.partId]"
              multiple
              filterable
              collapse-tags
              placeholder="which pieces"
              :aria-label="`Pieces of ${part.description}`"
              :data-test="`return-pieces-${part.position}`"
              ><ElOption
                v-for="piece in part.pieces"
                :key="piece.id"
                :value="piece.id"
                :label="piece.label" /></ElSelect
            ><NumberField
              v-else
              :model-value="quantities[part.partId] ?? ''"
              :label="`Of ${part.description} goes back`"
              width="100px"
              :data-test="`return-${part.position}`"
              @update:model-value="quantities[part.partId] = $event" /></template
        ></LineTable>
        <FormField label="Why" place="reason"><ElInput v-model="form.reason" data-test="return-reason" /></FormField>
        <div class="fields">
          <FormField label="What is wanted"
            ><ElRadioGroup v-model="form.wish"
              ><ElRadioButton value="replacement">a replacement</ElRadioButton
              ><ElRadioButton value="credit">the money</ElRadioButton></ElRadioGroup
            ></FormField
          ><FormField label="The supplier’s number of it"
            ><ElInput v-model="form.supplierNumber" maxlength="60" /></FormField
          ><FormField label="Picked up on"
            ><DayField v-model="form.pickUpOn" label="Picked up on" empty="not said" /></FormField
          ><FormField label="By"><ElInput v-model="form.carrier" /></FormField>
        </div>
        <p class="quiet">
          {{
            data.debits
              ? 'What is billed already is taken off the supplier’s bills by a debit note.'
              : 'This supplier credits by itself: no debit note is made.'
          }}
        </p>
        <template #acts
          ><ElButton type="primary" native-type="submit" :disabled="busy || lines.length === 0" data-test="send-return"
            >It goes back now</ElButton
          ><ElButton :disabled="busy || lines.length === 0" @click="keep(false)">Keep as a draft</ElButton
          ><ElButton @click="writes = undefined">Leave it</ElButton></template
        >
      </EntryForm>
    </ElDialog>
    <ActDialog
      v-if="ends"
      :open="true"
      :title="ends.how === 'settle' ? 'The replacement or the credit is here' : 'It does not go back'"
      what="The return stands in the list with what became of it."
      :button="ends.how === 'settle' ? 'It is settled' : 'It stays'"
      optional
      :busy="busy"
      :reasons="reasons"
      @close="ends = undefined"
      @go="end"
    />
  </section>
</template>

<style scoped>
.return {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  border-top: 1px solid var(--rule);
  padding: 6px 0;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 14px;
}
small {
  display: block;
  color: var(--ink-quiet);
}
.quiet {
  color: var(--ink-quiet);
}
.acts {
  white-space: nowrap;
}
</style>
