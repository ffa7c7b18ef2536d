<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, defineAsyncComponent, ref } from 'vue'
import { ReadRequisition } from '#contract/request/endpoints.ts'
import BudgetBar from '#web/charts/BudgetBar.vue'
import ChangedLines from '#web/decide/ChangedLines.vue'
import { lastTimeWords } from '#web/decide/lastTimeWords.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, day, quantityText, unit } from '#web/shared/words.ts'

/** What is asked for, line by line, and what it does to the budgets; lines that others decide are quiet. */
const props = defineProps<{ id: string }>()
const EditLinesDialog = defineAsyncComponent(() => import('#web/decide/EditLinesDialog.vue'))
const editing = ref(false)
const { data, reload } = useRead(ReadRequisition, () => ({ params: { id: props.id } }))
const mayEdit = computed(() => data.value?.actions.some(one => one.action === 'editLines') ?? false)
async function edited(): Promise<void> {
  editing.value = false
  await reload()
}
const reason = computed(() => data.value?.history.find(one => one.action === 'submitted')?.reason ?? '')
</script>

<template>
  <div v-if="data" class="lines">
    <p v-if="data.reason" class="said">“{{ data.reason }}”</p>
    <p v-if="reason" class="said tone-attention">“{{ reason }}”</p>
    <ChangedLines :changes="data.changes" />
    <ol>
      <li
        v-for="line in data.lines.filter(one => one.state !== 'cancelled')"
        :key="line.id"
        :class="{ 'not-mine': !line.mine }"
        data-test="decision-line"
      >
        <span
          >{{ line.confidential ? 'A personal fee' : line.description
          }}<template v-if="line.kind === 'goods'">, {{ quantityText(line.quantity) }} {{ unit(line.unit) }}</template
          ><small
            >{{ line.mine ? [line.supplier, lastTimeWords(line)].filter(Boolean).join(', ') : 'not for you to decide'
            }}{{ line.needBy ? `, by ${day(line.needBy)}` : '' }}</small
          ></span
        ><b>{{ amountText(line.baseAmount) }}</b>
      </li>
    </ol>
    <ElButton v-if="mayEdit" link type="primary" data-test="edit-lines" @click="editing = true"
      >change lines, or refuse some</ElButton
    >
    <div class="budgets"><BudgetBar v-for="figures in data.budgets" :key="figures.accountId" :figures="figures" /></div>
    <EditLinesDialog v-if="editing && data" :sheet="data" @done="edited" @close="editing = false" />
  </div>
  <p v-else role="status">Looking …</p>
</template>

<style scoped>
.lines {
  padding: 4px 0 10px;
  max-width: 760px;
}
.said {
  font-style: italic;
  margin-bottom: 6px;
}
ol {
  list-style: none;
  padding: 0;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule-light);
}
li b {
  font-weight: 500;
}
small {
  display: block;
  color: var(--ink-quiet);
}
.not-mine {
  color: var(--ink-quiet);
}
.not-mine b {
  font-weight: 400;
}
.budgets {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(240px, 1fr));
  gap: 0 24px;
  margin-top: 10px;
}
</style>
