<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import CostingWork from '#web/build/CostingWork.vue'

/** Each costing is worked on by itself: what is under way for one never reaches another. */
const route = useRoute()
const id = computed(() => String(route.params.id))
</script>

<template>
  <CostingWork :key="id" :id="id" />
</template>
