<script setup lang="ts">
import { ElFormItem } from 'element-plus'
import { computed, inject, onUnmounted } from 'vue'
import { FAULTS } from '#web/shared/formFaults.ts'
import { words } from '#web/shared/words.ts'

/** One field of a form: its label, help below it, and the fault that the server found there. */
const props = defineProps<{ label: string; place?: string; help?: string; required?: boolean; whole?: boolean }>()
const faults = inject(FAULTS, undefined)
if (props.place !== undefined) faults?.add(props.place)
onUnmounted(() => props.place !== undefined && faults?.drop(props.place))
const error = computed(() =>
  props.place === undefined ? '' : (faults?.at(props.place) ?? []).map(reason => words(reason)).join(' '),
)
</script>

<template>
  <ElFormItem
    class="form-field"
    label-position="top"
    :class="{ whole }"
    :label="label"
    :required="required ?? false"
    :error="error"
    :data-place="place"
    ><slot />
    <p v-if="help && !error" class="help">{{ help }}</p></ElFormItem
  >
</template>

<style scoped>
.help {
  font-size: 12px;
  line-height: 1.35;
  color: var(--ink-quiet);
  margin-top: 2px;
  width: 100%;
}
.whole {
  grid-column: 1 / -1;
}
</style>
