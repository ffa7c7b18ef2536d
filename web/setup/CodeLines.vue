<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'

/** A few codes with their names; a line more comes with its button, or with Enter in the last one. */
const lines = defineModel<{ code: string; name: string }[]>({ required: true })
defineProps<{ example: string; name: string }>()
const add = (): void => void (lines.value = [...lines.value, { code: '', name: '' }])
const drop = (at: number): void => void (lines.value = lines.value.filter((_, index) => index !== at))
</script>

<template>
  <div class="lines-of-codes">
    <p v-for="(line, index) in lines" :key="index">
      <ElInput
        v-model="line.code"
        :placeholder="`such as ${example}`"
        :aria-label="`Code of ${name} ${index + 1}`"
        :data-test="`${name}-code-${index}`"
        class="code"
        @blur="line.code = line.code.trim().toUpperCase()"
      /><ElInput
        v-model="line.name"
        placeholder="Name"
        :aria-label="`Name of ${name} ${index + 1}`"
        :data-test="`${name}-name-${index}`"
        @keydown.enter.prevent="add"
      /><ElButton v-if="lines.length > 1" link type="primary" @click="drop(index)">Take out</ElButton>
    </p>
    <ElButton :data-test="`${name}-add`" @click="add">One more</ElButton>
  </div>
</template>

<style scoped>
p {
  display: flex;
  gap: 10px;
  margin: 8px 0;
}
.code {
  width: 170px;
  flex: none;
}
</style>
