<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { computed, ref, watch } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'
import ReasonList from '#web/shared/ReasonList.vue'

/** Asks for what an act needs: says what will happen and takes a reason. */
const props = defineProps<{
  open: boolean
  title: string
  what: string
  button: string
  busy: boolean
  reasons: readonly ReasonJson[]
  optional?: boolean
  danger?: boolean
}>()
const emit = defineEmits<{ close: []; go: [reason: string] }>()
const reason = ref('')
const ready = computed(() => props.optional || reason.value.trim().length >= 3)
watch(
  () => props.open,
  open => {
    if (open) reason.value = ''
  },
)
</script>

<template>
  <ElDialog :model-value="open" :title="title" width="520px" @close="emit('close')">
    <p>{{ what }}</p>
    <slot />
    <label class="field reason"
      >{{ optional ? 'Reason, if you like' : 'Reason' }}
      <ElInput
        v-model="reason"
        type="textarea"
        :rows="3"
        data-test="reason"
        maxlength="4000"
        @keydown.ctrl.enter="ready && emit('go', reason)"
      />
    </label>
    <ReasonList :reasons="reasons" />
    <template #footer>
      <ElButton
        :type="danger ? 'danger' : 'primary'"
        :disabled="!ready || busy"
        data-test="confirm"
        @click="emit('go', reason)"
        >{{ button }}</ElButton
      >
      <ElButton @click="emit('close')">Leave it</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.reason {
  margin-top: 12px;
}
</style>
