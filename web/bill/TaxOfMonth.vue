<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import { ReadTaxes } from '#contract/bill/taxes.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, day } from '#web/shared/words.ts'

/** VAT of what a month posted, each line open to its documents. */
const props = defineProps<{ month: string }>()
const { data } = useRead(ReadTaxes, () => ({ query: { month: props.month } }), { keep: true })
const open = ref('')
const keyOf = (row: { country: string; category: string; rate: string }): string =>
  `${row.country} ${row.category} ${row.rate}`
const toggle = (key: string): void => {
  open.value = open.value === key ? '' : key
}
</script>

<template>
  <section v-if="data?.rows.length" class="section" data-test="taxes">
    <h2>VAT</h2>
    <p>
      Charged to us: <b>{{ data.currency }} {{ amountText(data.tax) }}</b
      ><template v-if="Number(data.owed) !== 0"
        >. Owed by ourselves, and taken off again: <b>{{ data.currency }} {{ amountText(data.owed) }}</b></template
      >.
    </p>
    <LineTable
      :rows="data.rows"
      :columns="
        lineColumns({
          what: 'Country, category and rate',
          '#taxable': 'Taxable',
          '#tax': 'Charged to us',
          '#owed': 'Owed by us',
          documents: 'Documents',
        })
      "
      label="VAT by country, category and rate"
      :key-of="keyOf"
      ><template #what="{ row }">{{ row.country || '—' }} {{ row.category }} {{ row.rate }} %</template>
      <template #taxable="{ row }">{{ amountText(row.taxable) }}</template>
      <template #tax="{ row }">{{ amountText(row.tax) }}</template>
      <template #owed="{ row }">{{ Number(row.owed) === 0 ? '' : amountText(row.owed) }}</template>
      <template #documents="{ row }"
        ><ElButton size="small" link :aria-expanded="open === keyOf(row)" @click="toggle(keyOf(row))"
          >{{ open === keyOf(row) ? 'Hide' : 'Show' }} {{ row.documents.length }}</ElButton
        ></template
      ></LineTable
    >
    <template v-for="row in data.rows" :key="keyOf(row)"
      ><LineTable
        v-if="open === keyOf(row)"
        class="section"
        :rows="row.documents"
        :columns="
          lineColumns({ day: 'Day', number: 'Document', supplier: 'Supplier', '#taxable': 'Taxable', '#tax': 'VAT' })
        "
        :label="`Documents of ${keyOf(row)}`"
        :key-of="one => one.id"
        ><template #day="{ row: one }">{{ day(one.day) }}</template>
        <template #number="{ row: one }"
          ><RouterLink :to="one.path">{{ one.number }}</RouterLink></template
        >
        <template #supplier="{ row: one }">{{ one.supplier }}</template>
        <template #taxable="{ row: one }">{{ amountText(one.taxable) }}</template>
        <template #tax="{ row: one }">{{ amountText(one.tax) }}</template></LineTable
      ></template
    >
  </section>
</template>
