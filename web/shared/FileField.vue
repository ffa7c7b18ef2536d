<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'

/** Chooses files, by a button or by dropping them; the field itself stays where the keyboard and screen readers find it. */
const props = defineProps<{
  label: string
  accept?: string
  multiple?: boolean
  busy?: boolean
  mark?: string
  camera?: boolean
}>()
const emit = defineEmits<{ choose: [files: File[]] }>()
const input = ref<HTMLInputElement>()
const over = ref(false)

function chosen(): void {
  const files = [...(input.value?.files ?? [])]
  if (input.value) input.value.value = ''
  if (files.length > 0) emit('choose', files)
}
function dropped(event: DragEvent): void {
  over.value = false
  const files = [...(event.dataTransfer?.files ?? [])]
  if (files.length > 0) emit('choose', props.multiple ? files : files.slice(0, 1))
}
</script>

<template>
  <span
    class="file-field"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="dropped"
    ><input
      ref="input"
      type="file"
      class="visually-hidden"
      tabindex="-1"
      :aria-label="label"
      :accept="accept"
      :multiple="multiple"
      :capture="camera ? 'environment' : undefined"
      :data-test="mark"
      @change="chosen"
    /><ElButton link :disabled="busy" @click="input?.click()">{{ label }}</ElButton></span
  >
</template>

<style scoped>
.file-field {
  display: inline-block;
  padding: 2px 0;
}
.over {
  outline: 1px dashed var(--tide);
  outline-offset: 3px;
}
</style>
