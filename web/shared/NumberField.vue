<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { ref, watch } from 'vue'
import { readTypedNumber } from '#core/money/entry.ts'
import { t } from '#web/shared/language.ts'

/**
 * A field for exact quantities and amounts: takes decimal comma and point, never guesses between two readings,
 * keeps text instead of floats.
 */
const props = defineProps<{ modelValue: string; label: string; disabled?: boolean; width?: string }>()
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()
const text = ref(props.modelValue)
const readings = ref<readonly string[]>([])
const fault = ref(false)

watch(
  () => props.modelValue,
  value => {
    if (read(text.value) !== value) {
      text.value = value
      readings.value = []
      fault.value = false
    }
  },
)

function read(typed: string): string | undefined {
  const result = readTypedNumber(typed)
  return result.ok ? result.value : undefined
}

function typed(value: string): void {
  text.value = value
  const result = readTypedNumber(value)
  readings.value = !result.ok && result.ambiguous ? result.ambiguous : []
  fault.value = !result.ok && readings.value.length === 0 && value !== ''
  if (result.ok) emit('update:modelValue', result.value)
}

function choose(value: string): void {
  text.value = value
  readings.value = []
  emit('update:modelValue', value)
}
</script>

<template>
  <span class="number-field" :style="{ width: width ?? '100%' }">
    <ElInput
      :model-value="text"
      :aria-label="label"
      :disabled="disabled ?? false"
      inputmode="decimal"
      :class="{ wrong: fault }"
      @update:model-value="typed"
    />
    <span v-if="readings.length" class="readings"
      >{{ t('Do you mean') }}
      <ElButton link v-for="reading in readings" :key="reading" @click="choose(reading)"> {{ reading }}</ElButton>?
    </span>
    <span v-else-if="fault" class="field-fault">{{ t('No number') }}</span>
  </span>
</template>

<style scoped>
.number-field {
  display: inline-flex;
  flex-direction: column;
}
.number-field :deep(input) {
  text-align: right;
}
.readings {
  font-size: 12px;
  color: var(--brass);
  display: flex;
  gap: 6px;
}
.wrong :deep(.el-input__wrapper) {
  box-shadow: 0 0 0 1px var(--madder) inset;
}
</style>
