<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import type { CodingJson } from '#contract/request/lines.ts'
import type { z } from 'zod'
import { Decimal } from '#core/money/decimal.ts'
import { balanced, leftOver, recount, type Split, SPLIT_BY, type SplitBy } from '#core/request/splits.ts'
import NumberField from '#web/shared/NumberField.vue'
import { amountText, label } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** Who pays for a line: one account, or several by parts, percentages, amounts or quantities that always add up. */
const props = defineProps<{
  accounts: readonly { id: string; label: string }[]
  proposals: readonly z.output<typeof CodingJson>[]
  whole: { amount: string; quantity: string }
  index: number
}>()
const splits = defineModel<Split[]>('splits', { required: true })
const by = defineModel<SplitBy>('by', { required: true })

const left = computed(() => (splits.value.length > 1 ? leftOver(by.value, splits.value, props.whole) : null))
const unused = computed(() =>
  props.proposals.filter(one => !splits.value.some(split => split.accountId === one.accountId)).slice(0, 3),
)
const empty = computed(() => splits.value.length === 0 || splits.value.every(split => split.accountId === ''))

function setAccount(at: number, accountId: string): void {
  splits.value = splits.value.map((split, index) => (index === at ? { ...split, accountId } : split))
}
function setShare(at: number, share: string): void {
  const typed = splits.value.map((split, index) => (index === at ? { ...split, share } : split))
  splits.value = balanced(by.value, typed, at, props.whole)
}
function takeOut(at: number): void {
  const rest = splits.value.filter((_, index) => index !== at)
  splits.value =
    rest.length > 1 ? recount(by.value, rest, props.whole) : rest.map(split => ({ ...split, share: '100' }))
}
function count(to: SplitBy): void {
  splits.value = recount(to, splits.value, props.whole)
  by.value = to
}
/** Another account takes nothing from the others until it is told how much; from one to two they share alike. */
function add(accountId = ''): void {
  if (splits.value.length === 0) {
    splits.value = [{ accountId, share: '100' }]
    return
  }
  if (splits.value.length === 1 && by.value === 'share') by.value = 'percent'
  const fresh = [
    ...splits.value.map(split => ({ ...split, share: splits.value.length === 1 ? '1' : split.share })),
    { accountId, share: '1' },
  ]
  splits.value =
    splits.value.length === 1
      ? recount(by.value, fresh, props.whole)
      : [...splits.value, { accountId, share: leftIsPositive() ? left.value! : '0' }]
}
const leftIsPositive = (): boolean => left.value !== null && new Decimal(left.value).gt(0)
function take(accountId: string): void {
  if (empty.value) splits.value = [{ accountId, share: '100' }]
  else if (splits.value.length === 1) splits.value = [{ ...splits.value[0]!, accountId }]
  else add(accountId)
}
</script>

<template>
  <div class="splits" :data-place="`lines.${index + 1}.splits`">
    <p v-for="(split, at) in splits" :key="at" class="row">
      <ElSelect
        :model-value="split.accountId"
        filterable
        default-first-option
        aria-label="Account"
        placeholder="Account: number or words"
        class="account"
        :data-test="`account-${index}-${at}`"
        @update:model-value="setAccount(at, $event)"
        ><ElOption v-for="one in accounts" :key="one.id" :value="one.id" :label="one.label"
      /></ElSelect>
      <template v-if="splits.length > 1"
        ><NumberField
          :model-value="split.share"
          label="Share"
          width="96px"
          :data-test="`share-${index}-${at}`"
          @update:model-value="setShare(at, $event)"
        /><ElButton link @click="takeOut(at)">take out</ElButton></template
      >
    </p>
    <p v-if="splits.length > 1" class="foot">
      <span class="quiet">counted by</span
      ><ElButton
        link
        v-for="one in SPLIT_BY"
        :key="one"
        :class="{ now: one === by }"
        :data-test="`split-by-${one}-${index}`"
        @click="count(one)"
      >
        {{ label('split', one) }}
      </ElButton>
      <span v-if="left !== null && left !== '0'" class="tone-stop" data-test="split-left"
        >{{ amountText(left) }} left</span
      ><span v-else-if="left !== null" class="quiet">adds up</span>
    </p>
    <p class="foot">
      <ElButton link :data-test="`add-account-${index}`" @click="add()">
        {{ splits.length ? 'Split over another account' : 'Choose the account that pays' }}
      </ElButton>
      <ElButton
        link
        v-for="one in unused"
        :key="one.accountId"
        class="proposal"
        :title="one.label"
        :data-test="`proposal-${index}`"
        @click="take(one.accountId)"
      >
        {{ one.label.split(':')[0] }} <span class="quiet">{{ laterLabel('coding', one.because) }}</span>
      </ElButton>
    </p>
  </div>
</template>

<style scoped>
.splits {
  display: flex;
  flex-direction: column;
  gap: 5px;
}
.row {
  display: flex;
  gap: 8px;
  align-items: center;
}
.row > * {
  min-width: 0;
}
.account {
  flex: 1 1 0;
  max-width: 470px;
}
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  font-size: 12px;
  align-items: baseline;
}
.now {
  font-weight: 700;
  color: var(--ink);
}
.proposal {
  white-space: normal;
  border-bottom: 1px dotted var(--tide-mid);
}
</style>
