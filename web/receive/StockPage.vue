<script setup lang="ts">
import { Stock } from '#contract/receive/stock.ts'
import StageFrame from '#web/frame/StageFrame.vue'
</script>

<template>
  <StageFrame stage="receive" name="stock" home="/receive/stock" :list="Stock"
    ><template #list-empty>Nothing is in stock. What goes to stock is said by item and category.</template><RouterView
  /></StageFrame>
</template>
