<script setup lang="ts">
import { computed } from 'vue'
import type { ItemJson } from '#contract/request/catalogue.ts'
import TrendLine from '#web/charts/TrendLine.vue'
import { day, priceText, quantityText, unit } from '#web/shared/words.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** What was paid for an item before, and who asked for it. */
const props = defineProps<{ item: ItemJson }>()
const trend = computed(() => [...props.item.paid].reverse().map(one => ({ until: one.day, figure: one.baseUnitPrice })))
</script>

<template>
  <div class="paid">
    <h2>What was paid</h2>
    <p v-if="!item.paid.length" class="quiet">Nothing was ordered in three years.</p>
    <template v-else
      ><TrendLine :points="trend" :threshold="item.paid[0]!.baseUnitPrice" unit="" />
      <LineTable
        :rows="item.paid.slice(0, 5)"
        :columns="lineColumns({ day: 'Day', supplier: 'Supplier', '#quantity': 'Quantity', '#price': 'Price' })"
        label="What was paid"
        bare
        ><template #day="{ row: one }">{{ day(one.day) }}</template>
        <template #supplier="{ row: one }">{{ one.supplier }}</template>
        <template #quantity="{ row: one }">{{ quantityText(one.quantity) }} {{ unit(one.unit) }}</template>
        <template #price="{ row: one }"
          >{{ priceText(one.price) }} <span class="unit">{{ one.currency }}</span></template
        ></LineTable
      ></template
    >
    <template v-if="item.askedBy.length"
      ><h3>Asked for by</h3>
      <p v-for="(one, index) in item.askedBy.slice(0, 4)" :key="index" class="quiet">
        {{ one.person }}, {{ day(one.day) }}, {{ quantityText(one.quantity) }} {{ unit(one.unit) }} {{ one.number }}
      </p></template
    >
  </div>
</template>

<style scoped>
h3 {
  margin: 12px 0 4px;
}
</style>
