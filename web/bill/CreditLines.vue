<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import type { CreditableLine, CreditEntry } from '#web/bill/creditEntry.ts'
import { t } from '#web/shared/language.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import { amountText, priceText, quantityText, unit } from '#web/shared/words.ts'

/** Lines of an invoice as they are credited: not billed, or cheaper; beside each what of it may still be credited. */
defineProps<{ lines: readonly CreditableLine[]; currency: string }>()
const entry = defineModel<CreditEntry>({ required: true })
</script>

<template>
  <LineTable
    :rows="lines"
    :columns="
      lineColumns({
        line: t('What'),
        '#billed': t('Billed, and still to credit'),
        way: t('How'),
        '#quantity': t('Quantity'),
        '#priceOff': t('Cheaper by'),
      })
    "
    :label="t('Lines')"
    :key-of="line => String(line.of)"
    ><template #line="{ row: line }">{{ line.of }}. {{ line.description }}</template>
    <template #billed="{ row: line }"
      >{{ quantityText(line.quantity) }} {{ unit(line.unit) }} × {{ priceText(line.price)
      }}<small
        >{{ quantityText(line.leftQuantity) }} {{ unit(line.unit) }}, {{ currency }}
        {{ amountText(line.leftNet) }}</small
      ></template
    >
    <template #way="{ row: line }"
      ><ElSelect
        class="way"
        v-model="entry.lines[line.of]!.way"
        :aria-label="t('How line {number} is credited', { number: line.of })"
        :data-test="`way-${line.of}`"
        ><ElOption value="quantity" :label="t('take off pieces')" /><ElOption
          value="price"
          :label="t('make each cheaper')" /></ElSelect
    ></template>
    <template #quantity="{ row: line }"
      ><NumberField
        v-model="entry.lines[line.of]!.quantity"
        :label="t('Quantity of line {number}', { number: line.of })"
        :data-test="`credit-quantity-${line.of}`"
    /></template>
    <template #priceOff="{ row: line }"
      ><NumberField
        v-if="entry.lines[line.of]!.way === 'price'"
        v-model="entry.lines[line.of]!.priceOff"
        :label="t('Line {number} is cheaper by', { number: line.of })"
        :data-test="`credit-price-${line.of}`"
      /><template v-else>–</template></template
    ></LineTable
  >
</template>

<style scoped>
.way {
  min-width: 165px;
}
</style>
