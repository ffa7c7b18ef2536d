<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { ReasonJson } from '#contract/fields.ts'
import { label, words } from '#web/shared/words.ts'

defineProps<{ reasons: readonly ReasonJson[] }>()
const LEVELS = ['stop', 'check', 'note'] as const
const TITLES = { stop: 'This stops it', check: 'Worth a look', note: 'To know' } as const

function goTo(place: string | undefined): void {
  if (!place) return
  const target = document.querySelector<HTMLElement>(`[data-place="${CSS.escape(place)}"]`)
  target?.scrollIntoView({ block: 'center' })
  target?.querySelector<HTMLElement>('input, textarea, button')?.focus()
}
</script>

<template>
  <template v-for="level in LEVELS" :key="level">
    <div
      v-if="reasons.some(reason => reason.level === level)"
      class="reasons"
      :class="level"
      :role="level === 'stop' ? 'alert' : 'status'"
    >
      <strong>{{ TITLES[level] }}</strong>
      <ul>
        <li v-for="(reason, index) in reasons.filter(one => one.level === level)" :key="index">
          <ElButton link v-if="reason.place" class="wrap" @click="goTo(reason.place)">
            {{ reason.place.startsWith('lines.') ? `Line ${reason.place.split('.')[1]}: ` : '' }}{{ words(reason) }}
          </ElButton>
          <span v-else>{{ words(reason) }}</span>
          <span v-if="reason.clearedBy?.length" class="quiet">
            Can be cleared by: {{ reason.clearedBy.map(who => label('role', who)).join(', ') }}.</span
          >
        </li>
      </ul>
    </div>
  </template>
</template>
