<script setup lang="ts">
import { ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadChoices } from '#contract/request/endpoints.ts'
import type { LineFacts } from '#contract/request/lines.ts'
import { changeKind, countsMoney, isWork, LINE_KINDS, type LineField, type LineKind } from '#core/request/kinds.ts'
import { wholeLine } from '#web/request/lineAmount.ts'
import { type LineProps, useLine } from '#web/request/lineFields.ts'
import type { EditedLine } from '#web/request/useDraft.ts'
import CurrencyField from '#web/shared/CurrencyField.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import UnitField from '#web/shared/UnitField.vue'
import { priceText, unit } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** What a line is, how much of it, and at what price: only the fields that its kind has. */
const props = defineProps<
  LineProps & { choices: ResponseOf<typeof ReadChoices> | undefined; facts: LineFacts | undefined }
>()
const emit = defineEmits<{ change: [line: Partial<EditedLine>] }>()
const { has, place, set, setDetails } = useLine(props, emit)
const lost = ref<readonly LineField[]>([])

/** The amount of kinds that have one figure: in the quantity where the line counts money, else in the price. */
const amount = computed(() => (countsMoney(props.line) ? props.line.quantity : props.line.price))
const setAmount = (value: string): void => set(countsMoney(props.line) ? { quantity: value } : { price: value })
const units = computed(() => props.choices?.units.map(one => one.code).filter(code => code !== 'M4'))
const AMOUNTS: Partial<Record<LineKind, string>> = { goodsByAmount: 'For at most', personalFee: 'Fee' }

function toKind(kind: LineKind): void {
  const whole = wholeLine(props.line).amount
  const changed = changeKind(props.line, kind, whole === '0' ? props.line.price : whole)
  lost.value = changed.lost
  const places = props.choices?.addresses.find(one => one.id === props.line.addressId)?.purposes ?? []
  const wanted = isWork(kind) ? 'performance' : 'delivery'
  set({ ...changed.line, addressId: places.includes(wanted) ? props.line.addressId : null })
}
</script>

<template>
  <p v-if="lost.length" class="quiet six">
    Left behind with the other kind: {{ lost.map(field => laterLabel('line field', field)).join(', ') }}.
  </p>
  <FormField class="two" label="It is"
    ><ElSelect :model-value="line.kind" :data-test="`kind-${index}`" @update:model-value="toKind($event)"
      ><ElOption
        v-for="kind in LINE_KINDS"
        :key="kind"
        :value="kind"
        :label="laterLabel('kind wish', kind)" /></ElSelect
  ></FormField>
  <FormField class="four" :label="isWork(line.kind) ? 'What is to be done' : 'What'" :place="place('description')"
    ><ElInput
      :model-value="line.description"
      :disabled="line.offerId !== null"
      maxlength="300"
      :data-test="`description-${index}`"
      @update:model-value="set({ description: $event })"
  /></FormField>
  <FormField
    v-if="has('quantity')"
    :label="(line.kind === 'workByRate' ? 'Ceiling' : 'Quantity') + (line.offerId ? `, ${unit(line.unit)}` : '')"
    :place="place('quantity')"
    ><NumberField
      :model-value="line.quantity"
      label="Quantity"
      :data-test="`quantity-${index}`"
      @update:model-value="set({ quantity: $event })"
  /></FormField>
  <FormField v-if="has('expected')" label="Expected" :place="place('expected')"
    ><NumberField
      :model-value="line.details.expected ?? ''"
      label="Expected"
      :data-test="`expected-${index}`"
      @update:model-value="setDetails({ expected: $event })"
  /></FormField>
  <FormField v-if="has('unit') && !line.offerId" label="Unit"
    ><UnitField
      :model-value="line.unit"
      v-bind="units ? { only: units } : {}"
      :mark="`unit-${index}`"
      @update:model-value="set({ unit: $event })"
  /></FormField>
  <FormField
    v-if="has('quantity') && !line.offerId"
    :label="line.kind === 'workByRate' ? 'Rate' : 'Unit price'"
    :place="place('price')"
    ><NumberField
      :model-value="line.price"
      label="Price"
      :data-test="`price-${index}`"
      @update:model-value="set({ price: $event })"
  /></FormField>
  <FormField v-if="!has('quantity')" :label="AMOUNTS[line.kind] ?? 'Amount'" :place="place('price')"
    ><NumberField :model-value="amount" label="Amount" :data-test="`price-${index}`" @update:model-value="setAmount"
  /></FormField>
  <FormField v-if="!line.offerId" label="Currency" :place="place('currency')"
    ><CurrencyField :model-value="line.currency" @update:model-value="set({ currency: $event as 'EUR' })"
  /></FormField>
  <p v-if="line.offerId && facts" class="offered two" :data-place="place('price')">
    <span class="quiet">from the catalogue, price as offered</span> {{ priceText(facts.price) }}
    <span class="unit">{{ facts.currency }}{{ line.priceBase === '1' ? '' : ` per ${line.priceBase}` }}</span
    ><b v-if="facts.agreement" class="tone-settled"> agreement {{ facts.agreement }}</b>
  </p>
</template>

<style scoped>
.offered {
  align-self: end;
  padding-bottom: 6px;
}
</style>
