<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog } from 'element-plus'
import { computed, ref } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'
import type { Plan } from '#web/award/planText.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import { priceText, quantityText, unit } from '#web/shared/words.ts'

/** What if: another quantity of a line, another price, capacity or tiers of an offer. What is left empty stays as it was answered. */
const props = defineProps<{ plan: Plan; lineId: string; reasons: readonly ReasonJson[]; busy: boolean }>()
const emit = defineEmits<{ close: []; keep: [terms: Plan['terms']] }>()
const terms = ref<Plan['terms']>(JSON.parse(JSON.stringify(props.plan.terms)) as Plan['terms'])
const line = computed(() => props.plan.lines.find(one => one.id === props.lineId)!)
const offers = computed(() =>
  props.plan.bids
    .filter(one => one.lineId === props.lineId)
    .map(one => ({ ...one, name: props.plan.suppliers.find(other => other.id === one.supplierId)?.name ?? '' }))
    .sort((a, b) => Number(a.unitCost) - Number(b.unitCost)),
)
type Own = Plan['terms']['bids'][string]
const keyOf = (supplierId: string): string => `${props.lineId} ${supplierId}`
const own = (supplierId: string): Own =>
  terms.value.bids[keyOf(supplierId)] ?? { unitCost: '', capacity: '', tiers: [], tierPrices: 'allUnits' }
function set(supplierId: string, changed: Partial<Own>): void {
  terms.value.bids[keyOf(supplierId)] = { ...own(supplierId), ...changed }
}
const addTier = (supplierId: string, unitCost: string): void =>
  set(supplierId, {
    tiers: [
      ...(own(supplierId).tiers.length ? own(supplierId).tiers : [{ from: '0', unitCost }]),
      { from: '', unitCost: '' },
    ],
  })
const setTier = (supplierId: string, index: number, changed: object): void =>
  set(supplierId, { tiers: own(supplierId).tiers.map((one, at) => (at === index ? { ...one, ...changed } : one)) })
/** Offers about which nothing is said any more are as they were answered. */
function keep(): void {
  const bids = Object.fromEntries(
    Object.entries(terms.value.bids)
      .map(
        ([key, one]) =>
          [key, { ...one, tiers: one.tiers.filter(tier => tier.from !== '' && tier.unitCost !== '') }] as const,
      )
      .filter(([, one]) => one.unitCost !== '' || one.capacity !== '' || one.multiple || one.tiers.length > 0),
  )
  emit('keep', {
    ...terms.value,
    bids,
    quantities: Object.fromEntries(Object.entries(terms.value.quantities).filter(([, value]) => value !== '')),
  })
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="`${line.position} ${line.description}`"
    width="840"
    append-to-body
    @closed="emit('close')"
  >
    <EntryForm :reasons="reasons" :busy="busy" @submit="keep">
      <FormField :label="`What if it were another quantity than ${quantityText(line.quantity)} ${unit(line.unit)}`"
        ><NumberField
          :model-value="terms.quantities[lineId] ?? ''"
          label="Another quantity"
          width="120px"
          @update:model-value="terms.quantities[lineId] = $event"
      /></FormField>
      <LineTable
        :rows="offers"
        :columns="
          lineColumns({
            name: 'Offer',
            '#cost': 'Landed, each',
            '#capacity': 'Up to',
            price: 'If it cost',
            most: 'If so many',
            only: 'Only by',
            tiers: 'By quantity',
          })
        "
        label="Offers"
        :key-of="one => one.supplierId"
        ><template #name="{ row: one }"
          >{{ one.name }}<small v-if="one.leadDays !== null">{{ one.leadDays }} days</small></template
        >
        <template #cost="{ row: one }">{{ priceText(one.unitCost) }}</template>
        <template #capacity="{ row: one }">{{ quantityText(one.capacity) }}</template>
        <template #price="{ row: one }"
          ><NumberField
            :model-value="own(one.supplierId).unitCost"
            :label="`If ${one.name} cost`"
            width="100px"
            @update:model-value="set(one.supplierId, { unitCost: $event })"
        /></template>
        <template #most="{ row: one }"
          ><NumberField
            :model-value="own(one.supplierId).capacity"
            :label="`If ${one.name} had so many`"
            width="90px"
            @update:model-value="set(one.supplierId, { capacity: $event })"
        /></template>
        <template #only="{ row: one }"
          ><NumberField
            :model-value="own(one.supplierId).multiple ?? ''"
            :label="`${one.name} only by`"
            width="80px"
            @update:model-value="set(one.supplierId, { multiple: $event })"
        /></template>
        <template #tiers="{ row: one }"
          ><p v-for="(tier, index) in own(one.supplierId).tiers" :key="index" class="bar tier">
            from
            <NumberField
              :model-value="tier.from"
              :label="`${one.name}, tier ${index + 1} from`"
              width="80px"
              @update:model-value="setTier(one.supplierId, index, { from: $event })"
            />
            at
            <NumberField
              :model-value="tier.unitCost"
              :label="`${one.name}, tier ${index + 1} at`"
              width="90px"
              @update:model-value="setTier(one.supplierId, index, { unitCost: $event })"
            />
          </p>
          <ElCheckbox
            v-if="own(one.supplierId).tiers.length"
            :model-value="own(one.supplierId).tierPrices === 'incremental'"
            label="only from there on"
            @change="set(one.supplierId, { tierPrices: $event ? 'incremental' : 'allUnits' })"
          /><ElButton link size="small" @click="addTier(one.supplierId, one.unitCost)">add a tier</ElButton></template
        ></LineTable
      >
      <p class="bar">
        <ElButton type="primary" native-type="submit" :disabled="busy" data-test="keep-tried">Compute with it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.tier {
  gap: 4px;
  flex-wrap: nowrap;
  margin: 0 0 4px;
}
</style>
