<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, defineAsyncComponent, ref } from 'vue'
import type { GlancePart } from '#contract/glances/endpoints.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { LABELS } from '#web/shared/labels.ts'
import { LATER_LABELS } from '#web/shared/laterLabels.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { amountText, label, words } from '#web/shared/words.ts'

/** What stands out, one line each; each leads to the list or document behind it, several can be acted on at once. */
const props = defineProps<{ part: Extract<GlancePart, { kind: 'rows' }>; currency: string }>()
const emit = defineEmits<{ changed: [] }>()
const TogetherDialog = defineAsyncComponent(() => import('#web/lists/TogetherDialog.vue'))
const acting = ref(false)
/** A title is a name, or a code that has words: `hold.price`. */
function titleOf(title: string): string {
  const [group = '', ...rest] = title.split('.')
  if (rest.length === 0) return title
  if (group in LABELS) return label(group as 'hold', rest.join('.'))
  return group in LATER_LABELS ? laterLabel(group as 'signal', rest.join('.')) : title
}
const columns = computed(() =>
  lineColumns({
    title: 'What',
    ...(props.part.rows.some(row => row.count !== null) ? { '#count': 'How many' } : {}),
    ...(props.part.rows.some(row => row.amount !== null) ? { '#amount': 'Amount' } : {}),
    says: 'Why',
  }),
)
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
  <LineTable class="rows" :rows="part.rows" :columns="columns" :label="label('glance', part.key)" bare>
    <template #title="{ row }"
      ><RouterLink :to="row.to">{{ titleOf(row.title) }}</RouterLink></template
    >
    <template #count="{ row }">{{ row.count ?? '' }}</template>
    <template #amount="{ row }"
      ><template v-if="row.amount"
        ><small class="unit">{{ row.says?.details.currency ?? currency }}</small> {{ amountText(row.amount) }}</template
      ></template
    >
    <template #says="{ row }"
      ><span :class="row.says ? `tone-${row.tone}` : ''">{{ said(row) }}</span></template
    >
  </LineTable>
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
.rows :deep(table) {
  width: auto;
  min-width: min(100%, 520px);
}
.rows :deep(td) {
  padding: 5px 24px 5px 0;
}
.rows :deep(td:first-child) {
  font-weight: 500;
}
small.unit {
  display: inline;
}
.rows a {
  color: var(--ink);
}
.after {
  margin-top: 8px;
}
</style>
