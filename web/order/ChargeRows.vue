<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import type { WantedOrderBody } from '#contract/order/endpoints.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { CHARGE_KINDS, type ChargeKind, MOST_CHARGES } from '#core/order/charges.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, label } from '#web/shared/words.ts'

/** Charges and discounts of an order: an amount or a per cent of its lines, and who pays where that is not who pays for the lines. */
type Item = WantedOrderBody['charges'][number]
defineProps<{ currency: string }>()
const items = defineModel<Item[]>({ required: true })
const { data: choices } = useRead(ReadChoices)
const accounts = computed(() => choices.value?.accounts ?? [])
const KINDS = Object.keys(CHARGE_KINDS) as ChargeKind[]
const MEASURES = ['amount', 'percent'] as const

const add = (): void => {
  items.value = [...items.value, { kind: 'freight', words: '', percent: null, amount: '0', splits: [] }]
}
function choose(item: Item, kind: ChargeKind): void {
  item.kind = kind
  if (!CHARGE_KINDS[kind].adds) item.splits = []
}
const measure = (item: Item, by: (typeof MEASURES)[number]): void => {
  item.percent = by === 'percent' ? '0' : null
}
/** Another account, with the share that it had; emptied, it pays no more. */
function pay(item: Item, at: number, accountId: string | undefined): void {
  const share = item.splits[at]?.share ?? '1'
  const paid = accountId ? [{ accountId, share }] : []
  item.splits = [...item.splits.slice(0, at), ...paid, ...item.splits.slice(at + 1)]
}
/** The next account that does not pay for it yet, with an equal share to begin with. */
function payToo(item: Item): void {
  const free = accounts.value.find(account => !item.splits.some(split => split.accountId === account.id))
  if (free) item.splits = [...item.splits, { accountId: free.id, share: '1' }]
}
</script>

<template>
  <fieldset class="charges" data-place="charges">
    <legend>Charges and discounts</legend>
    <p v-for="(item, at) in items" :key="at" class="bar">
      <ElSelect
        :model-value="item.kind"
        aria-label="Kind of charge"
        style="width: 112px"
        :data-test="`charge-kind-${at}`"
        @update:model-value="choose(item, $event)"
        ><ElOption v-for="kind in KINDS" :key="kind" :value="kind" :label="label('charge', kind)" /></ElSelect
      ><ElInput
        v-model="item.words"
        aria-label="In words"
        placeholder="in words"
        maxlength="200"
        style="width: 110px"
      />
      <NumberField
        v-if="item.percent === null"
        v-model="item.amount"
        label="Amount of the charge"
        width="96px"
        :data-test="`charge-amount-${at}`"
      /><NumberField
        v-else
        v-model="item.percent"
        label="Per cent of the lines"
        width="96px"
        :data-test="`charge-percent-${at}`"
      />
      <ElSelect
        :model-value="item.percent === null ? 'amount' : 'percent'"
        aria-label="Amount or per cent"
        style="width: 112px"
        :data-test="`charge-measure-${at}`"
        @update:model-value="measure(item, $event)"
        ><ElOption v-for="one in MEASURES" :key="one" :value="one" :label="one === 'amount' ? currency : '% of lines'"
      /></ElSelect>
      <template v-if="CHARGE_KINDS[item.kind].adds"
        ><span v-for="part in Math.max(1, item.splits.length)" :key="part" class="payer"
          ><ElSelect
            :model-value="item.splits[part - 1]?.accountId"
            filterable
            clearable
            placeholder="paid as the lines are"
            aria-label="Who pays for it"
            style="width: 190px"
            :data-test="`charge-account-${at}${part > 1 ? `-${part}` : ''}`"
            @update:model-value="pay(item, part - 1, $event)"
            ><ElOption v-for="one in accounts" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
          ><NumberField
            v-if="item.splits.length > 1"
            :model-value="item.splits[part - 1]!.share"
            label="Share"
            width="64px"
            :data-test="`charge-share-${at}-${part}`"
            @update:model-value="item.splits[part - 1]!.share = $event" /></span
        ><ElButton
          v-if="item.splits.length && item.splits.length < accounts.length"
          link
          :data-test="`charge-more-${at}`"
          @click="payToo(item)"
          >another account</ElButton
        ></template
      >
      <ElButton link :aria-label="`Take out charge ${at + 1}`" @click="items = items.filter((_, index) => index !== at)"
        >take out</ElButton
      ><small v-if="item.percent !== null && Number(item.amount)" class="unit">was {{ amountText(item.amount) }}</small>
    </p>
    <ElButton v-if="items.length < MOST_CHARGES" link data-test="add-charge" @click="add">{{
      items.length ? 'One more' : 'Add freight, a charge or a discount'
    }}</ElButton>
  </fieldset>
</template>

<style scoped>
.charges {
  border: 0;
  margin: 0;
  padding: 0;
}
.charges legend {
  color: var(--ink-quiet);
  padding: 0 0 4px;
}
.payer {
  display: inline-flex;
  gap: 4px;
}
.charges p {
  gap: 6px;
  flex-wrap: wrap;
  margin: 0 0 6px;
}
</style>
