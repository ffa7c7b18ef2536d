<script setup lang="ts">
import { Inspections } from '#contract/receive/inspections.ts'
import StageFrame from '#web/frame/StageFrame.vue'
</script>

<template>
  <StageFrame stage="receive" name="inspections" home="/receive/inspections" :list="Inspections"
    ><template #list-empty>Nothing waits for an inspection. What is inspected is said by item and category.</template
    ><RouterView
  /></StageFrame>
</template>
