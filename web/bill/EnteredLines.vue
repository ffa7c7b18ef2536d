<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { TAX_CATEGORIES } from '#core/source/defaults.ts'
import type { ReadEntry } from '#contract/bill/entry.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { emptyLine, type EntryLine } from '#web/bill/entryLines.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import UnitField from '#web/shared/UnitField.vue'
import { amountText, unit } from '#web/shared/words.ts'

/** Lines as they are typed from a paper, each for a line of the order where there is one. */
const props = defineProps<{
  order: ResponseOf<typeof ReadEntry>['orders'][number] | undefined
  currency: string
  nets: readonly string[]
}>()
/** Where somebody is: how a figure from the paper gets there. */
const emit = defineEmits<{ at: [put: (value: string) => void] }>()
const lines = defineModel<EntryLine[]>({ required: true })

const NONE = 'none'

/** The words, unit and price of the line of the order, and what is open of it. */
function link(line: EntryLine, id: string): void {
  const ordered = props.order?.lines.find(one => one.id === id)
  line.orderLineId = ordered?.id ?? null
  if (!ordered) return
  Object.assign(line, { description: ordered.description, unit: ordered.unit, priceBase: ordered.priceBase })
  if (line.price === '') Object.assign(line, { price: ordered.price, quantity: ordered.open })
}
const taxed = (line: EntryLine, category: EntryLine['taxCategory']): void => {
  line.taxCategory = category
  if (category !== 'S') line.taxRate = '0'
}
const remove = (index: number): void => {
  lines.value = lines.value.filter((_line, at) => at !== index)
}
</script>

<template>
  <div>
    <LineTable
      :rows="lines"
      :columns="
        lineColumns({
          what: 'Line',
          '#quantity': 'Quantity',
          '#price': 'Price',
          vat: 'VAT',
          '#net': `Net, ${currency}`,
          '-off': '',
        })
      "
      label="Lines of the paper"
      :key-of="line => String(line.key)"
      ><template #what="{ row: line, index }"
        ><div class="what">
          <ElSelect
            v-if="order"
            :model-value="line.orderLineId ?? NONE"
            size="small"
            :aria-label="`Line of the order for line ${index + 1}`"
            @change="link(line, $event)"
            ><ElOption :value="NONE" label="not ordered" /><ElOption
              v-for="one in order.lines"
              :key="one.id"
              :value="one.id"
              :label="`${one.position}. ${one.description}`" /></ElSelect
          ><ElInput
            v-model="line.description"
            maxlength="300"
            :aria-label="`What line ${index + 1} is`"
            :data-test="`entered-what-${index + 1}`"
          /></div
      ></template>
      <template #quantity="{ row: line, index }"
        ><div class="amount">
          <NumberField
            v-model="line.quantity"
            :label="`Quantity of line ${index + 1}`"
            width="84px"
            @focusin="emit('at', value => (line.quantity = value))"
          /><span v-if="line.orderLineId" class="unit">{{ unit(line.unit) }}</span
          ><UnitField v-else v-model="line.unit" :label="`Unit of line ${index + 1}`" /></div
      ></template>
      <template #price="{ row: line, index }"
        ><NumberField
          v-model="line.price"
          :label="`Price of line ${index + 1}`"
          width="96px"
          :data-test="`entered-price-${index + 1}`"
          @focusin="emit('at', value => (line.price = value))"
        /><span v-if="line.priceBase !== '1'" class="unit">for {{ line.priceBase }}</span></template
      >
      <template #vat="{ row: line, index }"
        ><ElSelect
          :model-value="line.taxCategory"
          size="small"
          :aria-label="`VAT category of line ${index + 1}`"
          :data-test="`vat-${index + 1}`"
          @change="taxed(line, $event)"
          ><ElOption v-for="code in TAX_CATEGORIES" :key="code" :value="code" :label="code" /></ElSelect
        ><NumberField
          v-if="line.taxCategory === 'S'"
          v-model="line.taxRate"
          :label="`Rate of line ${index + 1}, %`"
          width="64px"
      /></template>
      <template #net="{ index }">{{ amountText(nets[index] ?? '0') }}</template>
      <template #off="{ index }"
        ><ElButton
          v-if="lines.length > 1"
          size="small"
          link
          :aria-label="`Take line ${index + 1} off`"
          @click="remove(index)"
          >Off</ElButton
        ></template
      ></LineTable
    >
    <p class="bar">
      <ElButton size="small" data-test="entered-more" @click="lines.push(emptyLine(lines[0]))">Another line</ElButton>
    </p>
  </div>
</template>

<style scoped>
.what {
  min-width: 170px;
}
.amount {
  display: grid;
  justify-items: end;
  width: 104px;
}
</style>
