<script setup lang="ts">
import { computed } from 'vue'
import type { ItemJson } from '#contract/request/catalogue.ts'
import TrendLine from '#web/charts/TrendLine.vue'
import { day, priceText, quantityText, unit } from '#web/shared/words.ts'

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
      <table class="lines">
        <tbody>
          <tr v-for="(one, index) in item.paid.slice(0, 5)" :key="index">
            <td>{{ day(one.day) }}</td>
            <td>{{ one.supplier }}</td>
            <td class="num">{{ quantityText(one.quantity) }} {{ unit(one.unit) }}</td>
            <td class="num">
              {{ priceText(one.price) }} <span class="unit">{{ one.currency }}</span>
            </td>
          </tr>
        </tbody>
      </table></template
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
td {
  padding: 4px 8px 4px 0;
}
</style>
