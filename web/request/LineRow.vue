<script setup lang="ts">
import { ElCheckbox } from 'element-plus'
import { computed } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'
import type { LineFacts } from '#contract/request/lines.ts'
import type { EditedLine } from '#web/request/useDraft.ts'
import RowButton from '#web/shared/RowButton.vue'
import { amountText, day, label, quantityText, unit } from '#web/shared/words.ts'

/** One line of a draft, closed: what the eye needs to go down five hundred of them. */
const props = defineProps<{
  line: EditedLine
  index: number
  facts: LineFacts | undefined
  reasons: readonly ReasonJson[]
  account: string
  open: boolean
  chosen: boolean
}>()
const emit = defineEmits<{ toggle: []; choose: [] }>()
const stops = computed(() => props.reasons.filter(reason => reason.level === 'stop').length)
const asks = computed(() => props.reasons.filter(reason => reason.level === 'check').length)
const counted = computed(() => props.line.kind === 'goods' || props.line.kind === 'workByRate')
</script>

<template>
  <div class="line-row" :class="{ open }" :data-test="`line-${index}`">
    <ElCheckbox :model-value="chosen" :aria-label="`Choose line ${index + 1}`" @change="emit('choose')" />
    <RowButton class="what" :aria-expanded="open" @click="emit('toggle')">
      <span class="unit">{{ index + 1 }}</span><span class="text"
        ><b>{{ line.description || 'Say what is wanted' }}</b
        ><span v-if="!open" class="quiet">{{
          [label('kind', line.kind), account].filter(Boolean).join(', ')
        }}</span></span
      >
    </RowButton>
    <span class="num">{{ counted ? `${quantityText(line.quantity)} ${unit(line.unit)}` : '' }}</span>
    <span class="not-phone">{{ line.needBy ? day(line.needBy) : '' }}</span>
    <span class="num amount">{{ facts ? amountText(facts.baseAmount) : '' }}</span>
    <span class="marks"
      ><span v-if="stops" class="tone-stop" :title="`${stops} to clear`">▲ {{ stops }}</span
      ><span v-else-if="asks" class="tone-attention" :title="`${asks} worth a look`">◆ {{ asks }}</span></span
    >
  </div>
</template>

<style scoped>
.line-row {
  display: grid;
  grid-template-columns: 20px minmax(0, 1fr) 92px 56px 86px 30px;
  gap: 10px;
  align-items: center;
  min-height: 44px;
  border-top: 1px solid var(--rule-light);
  content-visibility: auto;
  contain-intrinsic-size: auto 44px;
}
.line-row.open {
  border-top-color: var(--ink);
  min-height: 36px;
}
.text {
  display: flex;
  flex-direction: column;
  min-width: 0;
}
.text > * {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.text b {
  font-weight: 600;
}
.text .quiet {
  font-size: 11.5px;
}
.amount {
  font-weight: 600;
}
.marks {
  font-size: 11.5px;
  white-space: nowrap;
}
@media (max-width: 700px) {
  .line-row {
    grid-template-columns: 20px minmax(0, 1fr) auto auto 28px;
  }
}
</style>
