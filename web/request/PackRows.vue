<script setup lang="ts">
import { ElButton } from 'element-plus'
import { unitLabel } from '#core/units/units.ts'
import NumberField from '#web/shared/NumberField.vue'
import UnitField from '#web/shared/UnitField.vue'

/** Packs in which an item is bought, with how much of its unit each holds. */
defineProps<{ unit: string }>()
type Pack = { unit: string; holds: string }
const packs = defineModel<readonly Pack[]>({ required: true })
const change = (index: number, change: Partial<Pack>): void => {
  packs.value = packs.value.map((pack, at) => (at === index ? { ...pack, ...change } : pack))
}
const drop = (index: number): void => {
  packs.value = packs.value.filter((_, at) => at !== index)
}
</script>

<template>
  <ul class="packs">
    <li v-for="(pack, index) in packs" :key="index" :data-place="`packs.${index}`">
      <span>a</span
      ><UnitField
        :model-value="pack.unit"
        :label="`Pack ${index + 1}`"
        @update:model-value="change(index, { unit: $event })"
      /><span>holds</span
      ><NumberField
        :model-value="pack.holds"
        :label="`Pack ${index + 1} holds`"
        width="90px"
        @update:model-value="change(index, { holds: $event })"
      /><span>{{ unitLabel(unit) }}</span
      ><ElButton link :aria-label="`Drop pack ${index + 1}`" @click="drop(index)">drop</ElButton>
    </li>
    <li>
      <ElButton link data-test="add-pack" @click="packs = [...packs, { unit: 'BX', holds: '' }]">Add a pack</ElButton>
    </li>
  </ul>
</template>

<style scoped>
.packs {
  list-style: none;
  padding: 0;
  margin: 0;
}
.packs li {
  display: grid;
  grid-template-columns: 10px 110px 40px 90px auto 1fr;
  gap: 8px;
  align-items: center;
  min-height: 34px;
}
.packs li:last-child {
  display: block;
}
</style>
