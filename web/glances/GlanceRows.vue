<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, defineAsyncComponent, ref } from 'vue'
import type { GlancePart } from '#contract/glances/endpoints.ts'
import { LABELS } from '#web/shared/labels.ts'
import { amountText, label, words } from '#web/shared/words.ts'

/** What stands out, one line each; each leads to the list or document behind it, several can be acted on at once. */
const props = defineProps<{ part: Extract<GlancePart, { kind: 'rows' }>; currency: string }>()
const emit = defineEmits<{ changed: [] }>()
const TogetherDialog = defineAsyncComponent(() => import('#web/lists/TogetherDialog.vue'))
const acting = ref(false)
/** A title is a name, or a code that has words: `hold.price`. */
function titleOf(title: string): string {
  const [group = '', ...rest] = title.split('.')
  return rest.length > 0 && group in LABELS ? label(group as 'hold', rest.join('.')) : title
}
const counted = computed(() => props.part.rows.some(row => row.count !== null))
const valued = computed(() => props.part.rows.some(row => row.amount !== null))
function said(row: (typeof props.part.rows)[number]): string {
  if (!row.says) return ''
  const roles = row.says.details.roles
  const named =
    typeof roles === 'string'
      ? {
          ...row.says,
          details: {
            roles: roles
              .split(' ')
              .map(role => label('role', role))
              .join(', '),
          },
        }
      : row.says
  return words(named)
}
</script>

<template>
  <table class="lines">
    <tbody>
      <tr v-for="(row, index) in part.rows" :key="index">
        <td class="title">
          <RouterLink :to="row.to">{{ titleOf(row.title) }}</RouterLink>
        </td>
        <td v-if="counted" class="num">{{ row.count ?? '' }}</td>
        <td v-if="valued" class="num">
          <template v-if="row.amount"
            ><small class="unit">{{ row.says?.details.currency ?? currency }}</small>
            {{ amountText(row.amount) }}</template
          >
        </td>
        <td :class="row.says ? `tone-${row.tone}` : ''">{{ said(row) }}</td>
      </tr>
    </tbody>
  </table>
  <p class="bar after">
    <ElButton v-if="part.together" type="primary" data-test="glance-together" @click="acting = true"
      >{{ label('action', part.together.act) }} these {{ part.together.ids.length }}</ElButton
    ><RouterLink v-if="part.more" :to="part.more">all of them</RouterLink>
  </p>
  <TogetherDialog
    v-if="acting && part.together"
    kind="order"
    :act="part.together.act"
    :ids="part.together.ids"
    @done="emit('changed')"
    @close="acting = false"
  />
</template>

<style scoped>
table.lines {
  width: auto;
  min-width: min(100%, 520px);
}
table.lines td {
  padding: 5px 24px 5px 0;
}
table.lines td.title {
  font-weight: 500;
}
td small.unit {
  display: inline;
}
td.title a {
  color: var(--ink);
}
.after {
  margin-top: 8px;
}
</style>
