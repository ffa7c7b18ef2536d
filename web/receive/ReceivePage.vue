<script setup lang="ts">
import { Deliveries } from '#contract/receive/endpoints.ts'
import StageFrame from '#web/frame/StageFrame.vue'
</script>

<template>
  <StageFrame stage="receive" name="deliveries" :list="Deliveries"
    ><template #list-empty>Nothing is expected. What has come in stands under “All in”.</template><RouterView
  /></StageFrame>
</template>
