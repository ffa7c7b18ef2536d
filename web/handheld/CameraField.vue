<script setup lang="ts">
import { onMounted, onUnmounted, ref } from 'vue'
import { readCamera } from '#web/handheld/camera.ts'

/** The camera as a scanner. */
const emit = defineEmits<{ found: [code: string] }>()
const video = ref<HTMLVideoElement>()
const fault = ref('')
let stop = (): void => undefined
onMounted(async () => {
  try {
    stop = await readCamera(video.value!, code => emit('found', code))
  } catch {
    fault.value = 'The camera cannot be used: allow it, or scan and type.'
  }
})
onUnmounted(() => stop())
</script>

<template>
  <p v-if="fault" class="said">{{ fault }}</p>
  <video v-else ref="video" class="camera" muted playsinline />
</template>
