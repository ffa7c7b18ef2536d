<script setup lang="ts">
import { ElButton, ElCheckbox, ElDatePicker, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, reactive, ref, shallowRef } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { Decide, EditLines } from '#contract/decide/endpoints.ts'
import { ReadChoices, type ReadRequisition } from '#contract/request/endpoints.ts'
import { countsMoney } from '#core/request/kinds.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { sayInPassing } from '#web/shared/message.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { priceText, unit, words } from '#web/shared/words.ts'

/** Changes the lines that somebody decides, or refuses some of them, and says what follows; the rest of the request stays as it is. */
type Sheet = ResponseOf<typeof ReadRequisition>
type SheetLine = Sheet['lines'][number]
type Edit = BodyOf<typeof EditLines>['lines'][number]
const props = defineProps<{ sheet: Sheet }>()
const emit = defineEmits<{ close: []; done: [] }>()
const { busy, reasons, run } = useAction()
const choices = shallowRef<ResponseOf<typeof ReadChoices>>()
onMounted(async () => {
  choices.value = await api(ReadChoices)
})
const lines = computed(() => props.sheet.lines.filter(line => line.mine && line.state !== 'cancelled'))
/** What was typed, line by line; nothing where nothing was. */
const edits = reactive<Record<string, Partial<Edit>>>({})
const of = (line: SheetLine): Partial<Edit> => (edits[line.id] ??= {})
const set = (line: SheetLine, part: Partial<Edit>): void => void Object.assign(of(line), part)
const changed = (line: SheetLine): Edit | undefined => {
  const said = Object.entries(edits[line.id] ?? {}).filter(([key, value]) => {
    if (key === 'refuse') return value === true
    if (key === 'splits') return JSON.stringify(value) !== JSON.stringify(line.splits)
    return value !== line[key as keyof SheetLine]
  })
  return said.length === 0 ? undefined : { id: line.id, ...(Object.fromEntries(said) as Partial<Edit>) }
}
const sent = computed(() => lines.value.flatMap(line => changed(line) ?? []))
const refusedCount = computed(() => sent.value.filter(line => line.refuse).length)
const reason = ref('')
const ready = computed(() => sent.value.length > 0 && reason.value.trim().length >= 3)
const account = (line: SheetLine): string => (of(line).splits ?? line.splits)[0]?.accountId ?? ''

async function keep(): Promise<{ version: number; askedAgain: number } | undefined> {
  const { id, version } = props.sheet
  return await run(() => api(EditLines, { params: { id }, body: { version, reason: reason.value, lines: sent.value } }))
}
const outcome = ({ askedAgain }: { askedAgain: number }): string => {
  if (askedAgain === 0) return 'It is changed; every decision stands.'
  return `It is changed; ${askedAgain === 1 ? 'one decision is' : `${askedAgain} decisions are`} to be taken.`
}
async function save(approves: boolean): Promise<void> {
  if (!ready.value || busy.value) return
  const done = await keep()
  if (!done) return
  const body = { version: done.version, decision: 'approve' as const, reason: reason.value }
  const approved = approves && (await run(() => api(Decide, { params: { id: props.sheet.id }, body })))
  sayInPassing(approves && !approved ? `It is changed, but not approved: ${words(reasons.value[0]!)}` : outcome(done))
  emit('done')
}
</script>

<template>
  <ElDialog :model-value="true" title="Change what is asked for" width="980px" top="6vh" @close="emit('close')">
    <p class="quiet what">
      Only the lines that you decide are here. {{ sheet.requester }} is told; whoever approved is asked again where the
      change matters to them.
    </p>
    <EntryForm :reasons="reasons" :busy="busy" @submit="save(false)">
      <LineTable
        :rows="lines"
        :columns="
          lineColumns({
            line: 'Line',
            '#quantity': 'Quantity',
            '#^price': 'Unit price',
            '^needBy': 'Needed by',
            '^account': 'Paid by',
            refuse: 'Refused',
          })
        "
        label="Lines that you decide"
        :key-of="line => line.id"
        :off="line => of(line).refuse === true"
        ><template #line="{ row: line }"
          ><ElInput
            :model-value="of(line).description ?? line.description"
            :disabled="of(line).refuse === true"
            type="textarea"
            :rows="1"
            autosize
            :aria-label="`Words of line ${line.position}`"
            maxlength="300"
            @update:model-value="set(line, { description: $event })" /></template
        ><template #quantity="{ row: line }"
          ><span class="figure"
            ><NumberField
              :model-value="of(line).quantity ?? line.quantity"
              :disabled="of(line).refuse === true"
              width="100px"
              :label="`Quantity of line ${line.position}`"
              :data-test="`edit-quantity-${line.position}`"
              @update:model-value="set(line, { quantity: $event })"
            />
            <span class="unit">{{ countsMoney(line) ? line.currency : unit(line.unit) }}</span></span
          ></template
        ><template #price="{ row: line }"
          ><template v-if="line.offerId || countsMoney(line)"
            >{{ countsMoney(line) ? '' : priceText(line.price) }}
            <small v-if="line.offerId">as offered</small></template
          ><span v-else class="figure"
            ><NumberField
              :model-value="of(line).price ?? line.price"
              :disabled="of(line).refuse === true"
              width="100px"
              :label="`Unit price of line ${line.position}`"
              :data-test="`edit-price-${line.position}`"
              @update:model-value="set(line, { price: $event })"
            />
            <span class="unit">{{ line.currency }}</span></span
          ></template
        ><template #needBy="{ row: line }"
          ><ElDatePicker
            :model-value="(of(line).needBy === undefined ? line.needBy : of(line).needBy) ?? ''"
            type="date"
            value-format="YYYY-MM-DD"
            format="D MMM YYYY"
            style="width: 140px"
            :disabled="of(line).refuse === true"
            :aria-label="`Line ${line.position} needed by`"
            @update:model-value="set(line, { needBy: $event || null })" /></template
        ><template #account="{ row: line }"
          ><span v-if="line.splits.length > 1" class="quiet">{{ line.splits.length }} accounts</span
          ><ElSelect
            v-else
            :model-value="account(line)"
            filterable
            default-first-option
            :disabled="of(line).refuse === true"
            :aria-label="`Who pays for line ${line.position}`"
            style="width: 170px"
            @update:model-value="
              set(line, { splits: [{ accountId: String($event), share: line.splits[0]?.share ?? '1' }] })
            "
            ><ElOption
              v-for="one in choices?.accounts ?? []"
              :key="one.id"
              :value="one.id"
              :label="one.label" /></ElSelect></template
        ><template #refuse="{ row: line }"
          ><ElCheckbox
            :model-value="of(line).refuse === true"
            :aria-label="`Refuse line ${line.position}`"
            :data-test="`refuse-${line.position}`"
            @update:model-value="set(line, { refuse: $event ? true : undefined })" /></template
      ></LineTable>
      <FormField label="Why" place="reason"
        ><ElInput v-model="reason" type="textarea" :rows="2" maxlength="4000" data-test="edit-reason"
      /></FormField>
      <template #acts
        ><ElButton type="primary" :disabled="!ready || busy" data-test="edit-and-approve" @click="save(true)">{{
          refusedCount > 0 ? 'Keep it and approve the rest' : 'Keep it and approve'
        }}</ElButton
        ><ElButton native-type="submit" :disabled="!ready || busy" data-test="edit-keep">Keep it, decide later</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.what {
  margin-bottom: 10px;
}
.figure {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
</style>
