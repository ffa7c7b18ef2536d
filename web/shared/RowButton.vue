<script setup lang="ts">
import { ElButton } from 'element-plus'

/** A whole row that can be pressed: its text stays as it is set, at the left, over one line or more. */
</script>

<template>
  <ElButton text class="row-button"><slot /></ElButton>
</template>

<style scoped>
.row-button {
  display: flex;
  justify-content: flex-start;
  width: 100%;
  height: auto;
  min-width: 0;
  margin: 0;
  padding: 5px 0;
  border: 0;
  background: none;
  color: inherit;
  font-weight: 400;
  font-size: inherit;
  line-height: inherit;
  text-align: left;
  white-space: normal;
}
.row-button:hover {
  background: none;
  color: inherit;
}
.row-button :deep(> span) {
  display: flex;
  align-items: baseline;
  gap: 8px;
  width: 100%;
  min-width: 0;
}
</style>
