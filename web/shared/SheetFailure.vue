<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { Offline, Refused } from '#web/api.ts'
import { words } from '#web/shared/words.ts'

const props = defineProps<{ failure: unknown }>()
const emit = defineEmits<{ again: [] }>()
const title = computed(() =>
  props.failure instanceof Refused
    ? ({ 404: 'There is nothing here', 403: 'This is not yours to see', 401: 'You are signed out' }[
        props.failure.status
      ] ?? 'It could not be loaded')
    : props.failure instanceof Offline
      ? 'No connection'
      : 'It could not be loaded',
)
const lines = computed(() =>
  props.failure instanceof Refused
    ? props.failure.reasons.map(words)
    : ['The server does not answer. Nothing is lost.'],
)
const signedOut = computed(() => props.failure instanceof Refused && props.failure.status === 401)
</script>

<template>
  <div class="failure" role="alert">
    <h2>{{ title }}</h2>
    <p v-for="line in lines" :key="line">{{ line }}</p>
    <p>
      <a v-if="signedOut" href="/sign-in">Sign in</a><ElButton link v-else @click="emit('again')">Try again</ElButton>
    </p>
  </div>
</template>

<style scoped>
.failure {
  padding: 50px 40px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
</style>
