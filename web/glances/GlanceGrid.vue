<script setup lang="ts">
import type { GlancePart } from '#contract/glances/endpoints.ts'
import { label, weekdayDay } from '#web/shared/words.ts'

/** How many come where on which day: the fuller the square, the more. */
const props = defineProps<{ part: Extract<GlancePart, { kind: 'grid' }> }>()
const most = (): number => Math.max(1, ...props.part.rows.flatMap(row => row.cells.map(cell => cell.count)))
const nameOf = (key: string): string => (/^\d{4}-/.test(key) ? weekdayDay(key) : label('glance bar', key))
</script>

<template>
  <div class="scroll">
    <table class="grid">
      <thead>
        <tr>
          <th scope="col"><span class="visually-hidden">Place</span></th>
          <th v-for="one in part.days" :key="one" scope="col" :class="{ 'tone-stop': one === 'late' }">
            {{ nameOf(one) }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in part.rows" :key="row.title">
          <th scope="row">{{ row.title || 'no place' }}</th>
          <td v-for="(cell, index) in row.cells" :key="index" :class="`cell-${cell.tone}`">
            <RouterLink
              v-if="cell.count"
              :to="cell.to"
              :style="{ '--full': `${Math.round((cell.count / most()) * 100)}%` }"
              ><span>{{ cell.count }}</span></RouterLink
            ><span v-else class="quiet" aria-label="nothing">·</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.grid {
  border-collapse: collapse;
}
th {
  font: 500 11.5px var(--sans);
  color: var(--ink-quiet);
  text-align: left;
  padding: 4px 8px 4px 0;
  white-space: nowrap;
}
tbody th {
  font-size: 13px;
  color: var(--ink);
}
td {
  min-width: 72px;
  height: 36px;
  border: 1px solid var(--rule-light);
  padding: 0;
  text-align: center;
}
td a {
  display: flex;
  height: 35px;
  align-items: center;
  justify-content: center;
  color: var(--ink);
  font-weight: 600;
  text-decoration: none;
  background: linear-gradient(var(--tide-light), var(--tide-light)) bottom / 100% var(--full) no-repeat;
}
.cell-stop a {
  color: var(--madder);
  background-image: linear-gradient(#f6ded8, #f6ded8);
}
td a:hover {
  outline: 1px solid var(--tide);
}
</style>
