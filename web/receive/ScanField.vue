<script setup lang="ts">
import { ElInput } from 'element-plus'
import { ref } from 'vue'
import FormField from '#web/shared/FormField.vue'

/** Takes what a scanner types, one code after the other, and says what each was taken for. */
const props = defineProps<{ take: (text: string) => string; label?: string }>()
const text = ref('')
const says = ref('')
function go(): void {
  if (text.value.trim() === '') return
  says.value = props.take(text.value)
  text.value = ''
}
</script>

<template>
  <FormField :label="label ?? 'Scan or find'" :help="says"
    ><ElInput
      v-model="text"
      data-test="scan"
      placeholder="item, barcode, GS1 label"
      autocomplete="off"
      @keydown.enter.prevent.stop="go"
  /></FormField>
</template>
