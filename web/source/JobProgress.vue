<script setup lang="ts">
import { computed } from 'vue'
import type { JobJson } from '#contract/source/duplicates.ts'

/** How far a long job is, and about how long it still takes. */
const props = defineProps<{ job: JobJson }>()
const share = computed(() => (props.job.total > 0 ? Math.min(1, props.job.done / props.job.total) : 0))
const left = computed(() => {
  if (!props.job.startedAt || share.value < 0.05) return ''
  const seconds = Math.round(
    (((Date.now() - Date.parse(props.job.startedAt)) / 1000) * (1 - share.value)) / share.value,
  )
  return seconds > 90 ? `about ${Math.round(seconds / 60)} minutes left` : `about ${seconds} s left`
})
</script>

<template>
  <span class="progress" role="status"
    ><span class="meter"><i :style="{ width: `${share * 100}%` }" /></span
    >{{ job.state === 'waiting' ? 'starts in a moment' : `${job.done} of ${job.total}` }}
    <span class="quiet">{{ left }}</span></span
  >
</template>

<style scoped>
.progress {
  display: inline-flex;
  gap: 10px;
  align-items: center;
}
.meter {
  width: 160px;
  height: 6px;
  background: var(--rule-light);
  display: inline-block;
}
.meter i {
  display: block;
  height: 100%;
  background: var(--tide);
}
</style>
