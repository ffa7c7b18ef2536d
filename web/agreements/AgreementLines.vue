<script setup lang="ts">
import { computed } from 'vue'
import type { Agreement } from '#web/agreements/agreementText.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { amountText, day, priceText, quantityText, unit } from '#web/shared/words.ts'

/** What is agreed, with the prices of today, what they were a year ago, and how much of each line was called off. */
const props = defineProps<{ sheet: Agreement }>()
type Line = Agreement['lines'][number]
const taken = (line: Line): string =>
  quantityText(
    String(
      (['reserved', 'committed', 'used'] as const).reduce(
        (sum, kind) => sum + Number(line.consumed[kind]!.quantity),
        0,
      ),
    ),
  )
const percent = (line: Line): string => {
  if (line.yearAgo === '' || Number(line.yearAgo) === 0) return ''
  const by = (Number(line.tiers[0]!.price) / Number(line.yearAgo) - 1) * 100
  return `${by > 0 ? '+' : ''}${by.toFixed(1)} %`
}
const columns = computed(() =>
  lineColumns({
    '!what': 'What',
    '#price': 'Price today',
    '#year': 'A year ago',
    ...(props.sheet.lines.some(line => line.listPrice !== '') ? { '#list': 'List', '#saved': 'Saved' } : {}),
    '#taken': 'Called off',
  }),
)
const per = (line: Line): string =>
  `${line.currency} per ${line.priceBase === '1' ? '' : `${quantityText(line.priceBase)} `}${unit(line.unit)}`
</script>

<template>
  <section class="section">
    <h2>What is agreed</h2>
    <LineTable
      :rows="sheet.lines"
      :columns="columns"
      label="What is agreed"
      :key-of="line => line.id"
      :off="line => line.full"
    >
      <template #what="{ row: line }"
        ><span class="what">{{ line.description }}</span>
        <small class="quiet">{{ line.itemNumber }} {{ line.leadTimeDays }} working days</small
        ><small v-if="line.full" class="tone-attention"> used up</small></template
      >
      <template #price="{ row: line }"
        ><b>{{ priceText(line.tiers[0]!.price) }}</b> <small class="unit">{{ per(line) }}</small><small
          v-for="tier in line.tiers.slice(1)"
          :key="tier.from"
          class="block"
          >from {{ quantityText(tier.from) }}: {{ priceText(tier.price) }}</small
        ><small v-if="line.index" class="quiet block"
          >{{ line.index.code
          }}<template v-if="line.index.month">, value of {{ day(line.index.month).slice(2) }}</template
          ><template v-if="line.index.provisional">, this month’s is not known yet</template
          ><template v-if="line.index.held">, kept at the {{ line.index.held }}</template></small
        ></template
      >
      <template #year="{ row: line }"
        ><template v-if="line.yearAgo"
          >{{ priceText(line.yearAgo) }} <small class="quiet">{{ percent(line) }}</small></template
        ><span v-else class="quiet">–</span></template
      >
      <template #list="{ row: line }">{{ line.listPrice === '' ? '–' : priceText(line.listPrice) }}</template>
      <template #saved="{ row: line }">{{ line.saved === '' ? '–' : amountText(line.saved) }}</template>
      <template #taken="{ row: line }"
        >{{ taken(line) }} <small class="unit">{{ unit(line.unit) }}</small></template
      >
    </LineTable>
  </section>
</template>

<style scoped>
.what {
  display: inline-block;
  min-width: 150px;
}
.block {
  display: block;
}
</style>
