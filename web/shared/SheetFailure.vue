<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { Offline, Refused } from '#web/api.ts'
import { words } from '#web/shared/words.ts'
import { t } from '#web/shared/language.ts'

const props = defineProps<{ failure: unknown }>()
const emit = defineEmits<{ again: [] }>()
const title = computed(() =>
  props.failure instanceof Refused
    ? ({ 404: t('There is nothing here'), 403: t('This is not yours to see'), 401: t('You are signed out') }[
        props.failure.status
      ] ?? t('It could not be loaded'))
    : props.failure instanceof Offline
      ? t('No connection')
      : t('It could not be loaded'),
)
const lines = computed(() =>
  props.failure instanceof Refused
    ? props.failure.reasons.map(words)
    : [t('The server does not answer. Nothing is lost.')],
)
const signedOut = computed(() => props.failure instanceof Refused && props.failure.status === 401)
</script>

<template>
  <div class="failure" role="alert">
    <h2>{{ title }}</h2>
    <p v-for="line in lines" :key="line">{{ line }}</p>
    <p>
      <a v-if="signedOut" href="/sign-in">{{ t('Sign in') }}</a><ElButton link v-else @click="emit('again')">{{
        t('Try again')
      }}</ElButton>
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
