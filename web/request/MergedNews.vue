<script setup lang="ts">
import type { useDraft } from '#web/request/useDraft.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** What was changed in another window, and what became of it here. */
const props = defineProps<{
  news: ReturnType<typeof useDraft>['news']['value']
  lines: readonly { readonly id: string }[]
}>()
const whereOf = (where: string): string => {
  const at = props.lines.findIndex(line => line.id === where)
  return at < 0 ? where : `line ${at + 1}`
}
</script>

<template>
  <div v-if="news.length" class="reasons note" role="status" data-test="merged">
    <strong>Changed in another window meanwhile</strong>
    <ul>
      <li v-for="one in news" :key="one.where + one.field">
        {{ whereOf(one.where) }}{{ one.field ? `, ${laterLabel('line field', one.field)}` : '' }}:
        {{ laterLabel('merge', one.kind) }}
      </li>
    </ul>
  </div>
</template>
