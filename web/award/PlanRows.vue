<script setup lang="ts">
import { ElButton } from 'element-plus'
import { gapText, type Plan, type PlanRow } from '#web/award/planText.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { amountText } from '#web/shared/words.ts'

/** Plans beside each other; the one that is chosen is shown line by line. */
defineProps<{ plan: Plan; rows: readonly PlanRow[] }>()
const chosen = defineModel<string>({ required: true })
</script>

<template>
  <section>
    <h2>Plans beside it</h2>
    <LineTable
      :rows="rows"
      :columns="
        lineColumns({
          key: 'Plan',
          '#cost': `Cost, ${plan.currency}`,
          '#gap': 'Proved within',
          '#suppliers': 'Suppliers',
          '#lead': 'All in, days',
          '#score': 'Score',
        })
      "
      label="Plans"
      :key-of="row => row.key"
      :now="row => row.key === chosen"
      ><template #key="{ row }"
        ><ElButton link class="choose" :data-test="`plan-row-${row.key}`" @click="chosen = row.key"
          ><b v-if="row.key === chosen">{{ laterLabel('plan row', row.key) }}</b
          ><template v-else>{{ laterLabel('plan row', row.key) }}</template></ElButton
        ><small v-if="row.breaks.length" class="tone-attention"
          >breaks {{ row.breaks.length }} {{ row.breaks.length === 1 ? 'wish' : 'wishes' }}</small
        ></template
      >
      <template #cost="{ row }">{{ amountText(row.cost) }}</template>
      <template #gap="{ row }">{{ row.gap === null ? '–' : gapText(row.gap) }}</template>
      <template #suppliers="{ row }">{{ row.suppliers.length }}</template>
      <template #lead="{ row }">{{ row.leadDays ?? '–' }}</template>
      <template #score="{ row }">{{ row.score ?? '–' }}</template></LineTable
    >
  </section>
</template>

<style scoped>
.choose {
  color: inherit;
}
</style>
