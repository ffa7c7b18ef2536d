<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { countriesOf, REGION_CODES, type Region } from '#core/build/regions.ts'
import type { Costing } from '#web/build/useCosting.ts'

/** Countries that goods may come from, one by one or all of a region, among those that offers ship from. */
const props = defineProps<{ known: Costing['known'] }>()
const value = defineModel<string[]>({ required: true })
const all = computed(() => [...new Set(props.known.offers.map(one => one.country))].filter(Boolean).sort())
const regions = computed(() => REGION_CODES.filter(region => countriesOf(region).some(one => all.value.includes(one))))
const take = (region: Region): void => {
  value.value = all.value.filter(one => countriesOf(region).includes(one))
}
</script>

<template>
  <ElSelect
    v-model="value"
    multiple
    filterable
    placeholder="from anywhere"
    aria-label="Countries"
    data-test="build-countries"
    ><ElOption v-for="one in all" :key="one" :value="one" :label="one"
  /></ElSelect>
  <span class="regions"
    ><ElButton v-for="region in regions" :key="region" link :data-test="`region-${region}`" @click="take(region)">{{
      region
    }}</ElButton></span
  >
</template>

<style scoped>
.regions .el-button + .el-button {
  margin-left: 10px;
}
</style>
