<script setup lang="ts">
import { useRoute } from 'vue-router'
import { ReadBudget } from '#contract/insight/endpoints.ts'
import BudgetBar from '#web/charts/BudgetBar.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, label, stamp } from '#web/shared/words.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

const route = useRoute()
const { sheet, failure, reload } = useSheet(ReadBudget, () => String(route.params.id))
const FIGURES = ['allotted', 'reserved', 'committed', 'spent', 'available', 'accrued'] as const
const NAMES: Readonly<Record<string, string>> = {
  allotted: 'Allotted',
  reserved: 'Reserved',
  committed: 'Committed',
  spent: 'Spent',
  available: 'Left',
  accrued: 'Accrued, beside',
}
</script>

<template>
  <SheetFailure v-if="failure" :failure="failure" @again="reload" />
  <article v-else-if="sheet" class="budget-sheet">
    <p class="quiet">Budget account; overdrawing: {{ label('level', sheet.level) }}</p>
    <h1>{{ sheet.figures.label }}</h1>
    <div class="bar-wide"><BudgetBar :figures="sheet.figures" plain /></div>
    <p class="figures">
      <span v-for="key in FIGURES" :key="key"
        ><span class="quiet">{{ NAMES[key] }}</span
        ><b :class="{ 'tone-stop': Number(sheet.figures[key]) < 0 }">{{ amountText(sheet.figures[key]) }}</b></span
      >
    </p>
    <section class="section">
      <h2>The entries behind these figures</h2>
      <p class="quiet">
        {{ sheet.entryCount }} entries{{
          sheet.entryCount > sheet.entries.length ? `, the latest ${sheet.entries.length} here` : ''
        }}, in {{ sheet.figures.currency }}.
      </p>
      <LineTable
        :rows="sheet.entries"
        :columns="lineColumns({ when: 'When', what: 'What', '#amount': 'Amount', from: 'From', who: 'Who' })"
        label="Entries"
        :key-of="entry => entry.id"
        ><template #when="{ row: entry }">{{ stamp(entry.at) }}</template>
        <template #what="{ row: entry }">{{ label('entry', entry.kind) }}</template>
        <template #amount="{ row: entry }">{{ amountText(entry.amount) }}</template>
        <template #from="{ row: entry }">
          <RouterLink v-if="entry.path" :to="entry.path">{{ entry.document }}</RouterLink><template v-else>{{
            entry.document
          }}</template>
        </template>
        <template #who="{ row: entry }">{{ entry.actor }}</template></LineTable
      >
    </section>
  </article>
</template>

<style scoped>
.budget-sheet {
  padding: 20px 28px 50px;
  max-width: 900px;
}
.bar-wide {
  max-width: 560px;
  margin: 12px 0;
}
.figures {
  display: flex;
  gap: 28px;
  flex-wrap: wrap;
}
.figures > span {
  display: flex;
  flex-direction: column;
}
.figures b {
  font-size: 16px;
  font-weight: 600;
}
</style>
