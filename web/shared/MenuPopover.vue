<script setup lang="ts">
import { ElPopover } from 'element-plus'
import { nextTick, ref } from 'vue'

/** What opens below a button and is left again by Escape, which gives the keyboard back to the button. */
withDefaults(defineProps<{ width?: number; placement?: 'bottom-start' | 'bottom-end' }>(), {
  width: 260,
  placement: 'bottom-start',
})
const open = defineModel<boolean>('open', { default: false })
const emit = defineEmits<{ show: [] }>()
const button = ref<HTMLElement>()

/** A list that is unfolded inside takes the first Escape for itself. */
function escape(event: KeyboardEvent): void {
  if ((event.target as HTMLElement).getAttribute('aria-expanded') === 'true') return
  event.stopPropagation()
  void leave()
}
async function leave(): Promise<void> {
  open.value = false
  await nextTick()
  button.value?.querySelector<HTMLElement>('button')?.focus()
}
</script>

<template>
  <ElPopover
    v-model:visible="open"
    trigger="click"
    :persistent="false"
    :width="width"
    :placement="placement"
    @show="emit('show')"
  >
    <template #reference
      ><span ref="button" class="reference"><slot name="button" /></span
    ></template>
    <div @keydown.esc.capture="escape"><slot /></div>
  </ElPopover>
</template>

<style scoped>
.reference {
  display: inline-flex;
}
</style>
