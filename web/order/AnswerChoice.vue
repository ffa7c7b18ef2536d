<script setup lang="ts">
import { ElCheckbox } from 'element-plus'
import type { z } from 'zod'
import type { DifferenceJson } from '#contract/order/endpoints.ts'
import DifferenceList from '#web/order/DifferenceList.vue'

/** What a supplier proposes, line by line: each is taken, or stays as it was ordered. */
defineProps<{ differences: readonly z.output<typeof DifferenceJson>[] }>()
const chosen = defineModel<string[]>({ required: true })
const toggle = (id: string, on: boolean): void => {
  chosen.value = on ? [...chosen.value, id] : chosen.value.filter(one => one !== id)
}
</script>

<template>
  <ul class="choice">
    <li v-for="one in differences" :key="one.lineId">
      <ElCheckbox
        :model-value="chosen.includes(one.lineId)"
        :aria-label="`Take what is proposed for line ${one.position}`"
        :data-test="`take-${one.position}`"
        @change="toggle(one.lineId, Boolean($event))"
      /><DifferenceList :differences="[one]" />
    </li>
  </ul>
</template>

<style scoped>
.choice {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
.choice li {
  display: flex;
  gap: 8px;
  align-items: center;
}
</style>
