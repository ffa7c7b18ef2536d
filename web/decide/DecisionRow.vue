<script setup lang="ts">
import { ElButton, ElCheckbox } from 'element-plus'
import { computed, defineAsyncComponent } from 'vue'
import type { DecisionItem } from '#contract/decide/endpoints.ts'
import type { Wanted } from '#web/decide/DecideDialog.vue'
import { becauseWords } from '#web/decide/decisionWords.ts'
import { useSession } from '#web/people/session.ts'
import { amountText, day, label, since } from '#web/shared/words.ts'
import { wholeText } from '#core/money/text.ts'

/** One thing to decide, as a sentence: who asks for what, how much, by when, what is left after, why it comes here, what waits on it. */
const props = defineProps<{
  item: DecisionItem
  at: boolean
  chosen: boolean
  open: boolean
  /** It was decided here and has not reached the server. */
  pending: boolean
  choosing: boolean
}>()
const emit = defineEmits<{ choose: []; open: []; pass: []; want: [wanted: Wanted] }>()
const DecisionLines = defineAsyncComponent(() => import('#web/decide/DecisionLines.vue'))
const session = useSession()
const late = computed(() => props.item.needBy !== null && props.item.needBy < session.today)
const decidable = computed(() => props.item.version !== null && props.item.waitsFor === '' && !props.pending)
const over = computed(() => props.item.budget !== null && props.item.budget.left.startsWith('-'))
const left = computed(() => {
  const { budget } = props.item
  if (!budget) return ''
  const whole = amountText(wholeText(budget.left.replace('-', '')))
  return `${over.value ? `${whole} over` : `${whole} left`} in ${budget.label}`
})
const notes = computed(() => [
  ...(props.item.inPlaceOf ? [`in place of ${props.item.inPlaceOf}`] : []),
  ...(props.item.waitsFor ? [`waits for ${props.item.waitsFor}`] : []),
  ...(props.item.stall ? [label('stall', props.item.stall)] : []),
  ...(props.item.paused ? ['waits for an answer'] : []),
  ...(props.item.later > 0
    ? [`${props.item.later} more ${props.item.later === 1 ? 'decision' : 'decisions'} after it`]
    : []),
])
</script>

<template>
  <li :id="`decision-${item.id}`" class="decision" :class="{ at, pending }" data-test="decision">
    <ElCheckbox
      v-if="choosing"
      class="choose"
      :model-value="chosen"
      :disabled="!decidable"
      :aria-label="`Choose ${item.number}`"
      @change="emit('choose')"
    />
    <div class="said">
      <p class="who">
        {{ item.askedBy }} asks<template v-if="item.needBy"
          >, <span :class="{ 'tone-stop': late }">needed by {{ day(item.needBy) }}</span></template
        >
        <span class="quiet"> {{ item.number }}, {{ since(item.since) }}</span>
      </p>
      <p class="title">
        <RouterLink :to="item.path">{{ item.title }}</RouterLink>
      </p>
      <p class="why quiet">
        {{ becauseWords(item)
        }}<template v-if="notes.length"
          ><span :class="{ 'tone-stop': item.stall }">{{ notes.join(', ') }}</span></template
        >
      </p>
    </div>
    <p class="amount">
      <b v-if="item.amount"
        >{{ amountText(item.amount) }} <small class="unit">{{ item.currency }}</small></b
      >
      <span v-if="left" class="left" :class="over ? 'tone-stop' : 'quiet'">{{ left }}</span>
    </p>
    <p class="acts">
      <template v-if="item.outcome"
        >{{ label('state', item.outcome) }} {{ item.decidedAt ? since(item.decidedAt) : '' }}</template
      >
      <template v-else-if="pending"><span class="tone-attention">◆ kept here, not sent yet</span></template>
      <template v-else-if="decidable"
        ><ElButton type="primary" data-test="row-approve" @click="emit('want', 'approve')">Approve</ElButton
        ><span class="others"
          ><ElButton link data-test="row-ask" @click="emit('want', 'ask')">ask</ElButton
          ><ElButton link data-test="row-return" @click="emit('want', 'return')">send back</ElButton
          ><ElButton link data-test="row-reject" @click="emit('want', 'reject')">reject</ElButton></span
        ></template
      ><ElButton
        v-else-if="item.stall && item.purpose !== 'approval'"
        link
        type="primary"
        data-test="row-pass"
        @click="emit('pass')"
        >pass it on</ElButton
      ><RouterLink v-else :to="item.path" data-test="row-open">{{ item.stall ? 'move it on' : 'open' }}</RouterLink>
    </p>
    <p v-if="item.purpose === 'approval'" class="lines-of">
      <ElButton link type="primary" :aria-expanded="open" data-test="row-lines" @click="emit('open')">{{
        open ? 'fold' : item.lines === 1 ? 'its line' : `its ${item.lines ?? 0} lines`
      }}</ElButton>
    </p>
    <DecisionLines v-if="open" class="inner" :id="item.documentId" />
  </li>
</template>

<style scoped>
.decision {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) 200px 190px;
  grid-template-areas: 'choose said amount acts' '. lines lines lines' '. inner inner inner';
  column-gap: 16px;
  padding: 12px 10px 8px 14px;
  border-bottom: 1px solid var(--rule-light);
}
.decision.at {
  background: var(--page);
  box-shadow: inset 3px 0 0 var(--tide);
}
.choose {
  grid-area: choose;
  height: 22px;
}
.said {
  grid-area: said;
}
.title {
  font: 600 17px/1.3 var(--serif);
}
.title a {
  color: var(--ink);
}
.why span {
  margin-left: 0.4em;
}
.amount {
  grid-area: amount;
  text-align: right;
  font-size: 17px;
}
.amount b {
  font-weight: 600;
  white-space: nowrap;
}
.left {
  display: block;
  font-size: 12px;
}
.acts {
  grid-area: acts;
  text-align: right;
}
.others {
  display: flex;
  justify-content: flex-end;
  gap: 10px;
  margin-top: 4px;
}
.lines-of {
  grid-area: lines;
}
.inner {
  grid-area: inner;
}
.pending {
  opacity: 0.85;
}
@media (max-width: 700px) {
  .decision {
    grid-template-columns: minmax(0, 1fr);
    grid-template-areas: 'said' 'amount' 'lines' 'inner' 'acts';
    background: var(--sheet);
    border: 1px solid var(--rule);
    padding: 14px 16px;
    margin-bottom: 12px;
  }
  .choose {
    display: none;
  }
  .amount {
    text-align: left;
    font-size: 20px;
    margin: 4px 0;
  }
  .acts {
    text-align: left;
    display: flex;
    gap: 10px;
    align-items: center;
    justify-content: space-between;
  }
  .acts :deep(.el-button--primary) {
    flex: 1;
    height: 44px;
  }
  .others {
    margin: 0;
  }
  .others :deep(.el-button) {
    min-height: 44px;
  }
}
</style>
