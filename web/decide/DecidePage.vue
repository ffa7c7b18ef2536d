<script setup lang="ts">
import { Decisions } from '#contract/decide/endpoints.ts'
import StageFrame from '#web/frame/StageFrame.vue'
</script>

<template>
  <StageFrame stage="decide" name="decisions" :list="Decisions">
    <template #list-empty
      >Nothing waits for your decision. The other views show what is coming and what you decided.</template
    >
    <RouterView />
  </StageFrame>
</template>
