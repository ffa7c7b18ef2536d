<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { computed, ref, watch } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { t } from '#web/shared/language.ts'

/**
 * Asks for what an act needs: says what will happen and takes a reason. What cannot be taken back asks to have the document's number typed.
 */
const props = defineProps<{
  open: boolean
  title: string
  what: string
  button: string
  busy: boolean
  reasons: readonly ReasonJson[]
  optional?: boolean
  danger?: boolean
  /** What has to be typed before it can be done: the number of the document. */
  typed?: string
}>()
const emit = defineEmits<{ close: []; go: [reason: string] }>()
const reason = ref('')
const number = ref('')
const ready = computed(
  () =>
    (props.optional || reason.value.trim().length >= 3) &&
    (props.typed === undefined || number.value.trim().toUpperCase() === props.typed.toUpperCase()),
)
watch(
  () => props.open,
  open => {
    if (open) reason.value = number.value = ''
  },
)
const go = (): void => {
  if (ready.value && !props.busy) emit('go', reason.value)
}
</script>

<template>
  <ElDialog :model-value="open" :title="title" width="520px" @close="emit('close')">
    <p class="what">{{ what }}</p>
    <slot />
    <EntryForm :reasons="reasons" :busy="busy" @submit="go">
      <FormField :label="optional ? t('Reason, if you like') : t('Reason')" place="reason"
        ><ElInput v-model="reason" type="textarea" :rows="3" data-test="reason" maxlength="4000"
      /></FormField>
      <FormField v-if="typed !== undefined" :label="t('Type {number}: this is not taken back', { number: typed })"
        ><ElInput v-model="number" data-test="typed-number" autocomplete="off"
      /></FormField>
      <template #acts
        ><ElButton
          :type="danger ? 'danger' : 'primary'"
          native-type="submit"
          :disabled="!ready || busy"
          data-test="confirm"
          >{{ button }}</ElButton
        ><ElButton @click="emit('close')">{{ t('Leave it') }}</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.what {
  margin-bottom: 12px;
}
</style>
