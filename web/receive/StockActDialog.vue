<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { CountStock, IssueStock, MoveStock, type ReadHolding, ReserveStock } from '#contract/receive/stock.ts'
import { readScan } from '#core/receive/scan.ts'
import { api } from '#web/api.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { quantityText } from '#web/shared/words.ts'

/** Hands out, moves, counts or sets apart of an item at a site: choose the lot, or scan its bin or batch. */
const props = defineProps<{ act: 'issue' | 'move' | 'count' | 'reserve'; holding: ResponseOf<typeof ReadHolding> }>()
const emit = defineEmits<{ close: []; done: [] }>()
const { busy, reasons, run } = useAction()
const TITLES = { issue: 'Hand out', move: 'Move', count: 'Count', reserve: 'Set apart' }
const form = reactive({
  lot: 0,
  scan: '',
  quantity: '',
  to: '',
  note: '',
  toPlaceId: props.holding.placeId,
  toBin: '',
  until: null as string | null,
  bin: '',
  batch: '',
})
const NEW = -1
const lot = computed(() => {
  const known = props.holding.lots[form.lot]
  const { itemId, placeId } = props.holding
  return { itemId, placeId, bin: known?.bin ?? form.bin, batch: known?.batch ?? form.batch }
})
function scan(): void {
  const read = readScan(form.scan)
  const wanted = (read.batch ?? form.scan.trim()).toLowerCase()
  const found = props.holding.lots.findIndex(
    one => one.batch.toLowerCase() === wanted || one.bin.toLowerCase() === wanted,
  )
  if (found >= 0) form.lot = found
  form.scan = ''
}
async function go(): Promise<void> {
  const { quantity, to, note, toPlaceId, toBin, until } = form
  const one = lot.value
  const done = await run(() =>
    props.act === 'issue'
      ? api(IssueStock, { body: { to, note, lines: [{ ...one, quantity }] } })
      : props.act === 'move'
        ? api(MoveStock, { body: { note, lines: [{ ...one, quantity, toPlaceId, toBin }] } })
        : props.act === 'count'
          ? api(CountStock, { body: { note, lines: [{ ...one, found: quantity }] } })
          : api(ReserveStock, { body: { itemId: one.itemId, placeId: one.placeId, quantity, purpose: to, until } }),
  )
  if (done) emit('done')
}
</script>

<template>
  <ElDialog :model-value="true" :title="`${TITLES[act]}: ${holding.item}`" width="520px" @close="emit('close')">
    <EntryForm :reasons="reasons" :busy="busy" @submit="go">
      <template v-if="act !== 'reserve'"
        ><FormField label="From"
          ><ElSelect v-model="form.lot" data-test="stock-lot"
            ><ElOption
              v-for="(one, index) in holding.lots"
              :key="index"
              :value="index"
              :label="`${[one.bin || 'no bin', one.batch].filter(Boolean).join(', ')}: ${quantityText(one.quantity)}`" /><ElOption
              v-if="act === 'count'"
              :value="NEW"
              label="a bin that is not in the list" /></ElSelect></FormField
        ><template v-if="act === 'count' && form.lot === NEW"
          ><FormField label="Bin"><ElInput v-model="form.bin" /></FormField
          ><FormField label="Batch"><ElInput v-model="form.batch" /></FormField></template
        ><FormField label="Scan a bin or batch"
          ><ElInput v-model="form.scan" @keydown.enter.prevent.stop="scan" /></FormField
      ></template>
      <FormField :label="act === 'count' ? 'Found' : 'How much'" place="lines.0.quantity"
        ><NumberField v-model="form.quantity" label="How much" data-test="stock-quantity"
      /></FormField>
      <FormField v-if="act === 'issue' || act === 'reserve'" label="For" place="to"
        ><ElSelect v-model="form.to" filterable allow-create default-first-option data-test="stock-to"
          ><ElOption v-for="one in holding.purposes" :key="one" :value="one" :label="one" /></ElSelect
      ></FormField>
      <template v-if="act === 'move'"
        ><FormField label="To"
          ><ElSelect v-model="form.toPlaceId"
            ><ElOption
              v-for="one in holding.places"
              :key="one.id"
              :value="one.id"
              :label="one.label" /></ElSelect></FormField
        ><FormField label="Bin" place="lines.0.toBin"
          ><ElInput v-model="form.toBin" data-test="stock-to-bin" /></FormField
      ></template>
      <FormField v-if="act === 'reserve'" label="Until"
        ><DayField v-model="form.until" label="Until" empty="as long as it takes"
      /></FormField>
      <FormField v-else label="Note"><ElInput v-model="form.note" /></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy || form.quantity === ''" data-test="stock-go">{{
          TITLES[act]
        }}</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>
