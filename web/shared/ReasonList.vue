<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { ReasonJson } from '#contract/fields.ts'
import { label, words } from '#web/shared/words.ts'
import { t } from '#web/shared/language.ts'

/** `lineNumbers`: the number that a line is shown under, where places name it by something else. */
const props = defineProps<{ reasons: readonly ReasonJson[]; lineNumbers?: Readonly<Record<string, number>> }>()
const LEVELS = ['stop', 'check', 'note'] as const
const title = (level: (typeof LEVELS)[number]): string =>
  ({ stop: t('This stops it'), check: t('Worth a look'), note: t('To know') })[level]

/** Which line a reason is about, if any is named. */
function lineOf(place: string): string {
  const [, line = ''] = /^lines\.([^.]+)/.exec(place) ?? []
  const number = props.lineNumbers?.[line] ?? (/^\d+$/.test(line) ? line : '')
  return number === '' ? '' : t('Line {number}: ', { number })
}

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
      <strong>{{ title(level) }}</strong>
      <ul>
        <li v-for="(reason, index) in reasons.filter(one => one.level === level)" :key="index">
          <ElButton link v-if="reason.place" class="wrap" @click="goTo(reason.place)">
            {{ lineOf(reason.place) }}{{ words(reason) }}
          </ElButton>
          <span v-else>{{ words(reason) }}</span>
          <span v-if="reason.clearedBy?.length" class="quiet">
            {{
              t('Can be cleared by: {who}.', { who: reason.clearedBy.map(who => label('role', who)).join(', ') })
            }}</span
          >
        </li>
      </ul>
    </div>
  </template>
</template>
