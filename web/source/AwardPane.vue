<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { type CompareEvent, ProposeAward, TryAward } from '#contract/source/comparing.ts'
import type { ReadEvent } from '#contract/source/events.ts'
import { api } from '#web/api.ts'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, quantityText, unit } from '#web/shared/words.ts'
import type { AwardChoice } from '#web/source/useAward.ts'

/** The award as it would be: what it costs, who would decide, what stands against it. */
const props = defineProps<{
  sheet: ResponseOf<typeof ReadEvent>
  comparison: ResponseOf<typeof CompareEvent>
  award: AwardChoice
}>()
const emit = defineEmits<{ done: [] }>()
const { busy, reasons, run } = useAction()
const reason = ref('')
const tried = shallowRef<ResponseOf<typeof TryAward>>()
const WAIT = 300
const tryIt = useDebounceFn(async () => {
  if (!props.award.any.value) return void (tried.value = undefined)
  const body = { shares: props.award.shares.value, reason: reason.value }
  tried.value = await api(TryAward, { params: { id: props.sheet.id }, body }).catch(() => undefined)
}, WAIT)
watch([props.award.shares, reason], () => void tryIt(), { deep: true })
const rows = computed(() =>
  props.award.shares.value.map(share => ({
    ...share,
    line: props.comparison.lines.find(one => one.id === share.lineId)!,
    supplier: props.comparison.suppliers.find(one => one.supplierId === share.supplierId)!.name,
  })),
)
async function go(): Promise<void> {
  const body = { version: props.sheet.version, shares: props.award.shares.value, reason: reason.value }
  if (await run(() => api(ProposeAward, { params: { id: props.sheet.id }, body }))) emit('done')
}
</script>

<template>
  <section class="section" data-test="award-pane">
    <h2>The award</h2>
    <p v-if="!rows.length" class="empty">
      Give lines above: each to the cheapest, all to one, or line by line; “share” splits a line.
    </p>
    <template v-else>
      <LineTable
        :rows="rows"
        :columns="lineColumns({ line: 'What', supplier: 'To', quantity: 'How many' })"
        label="Award"
        :key-of="one => `${one.lineId} ${one.supplierId}`"
        ><template #line="{ row: one }">{{ one.line.position }} {{ one.line.description }}</template>
        <template #supplier="{ row: one }">{{ one.supplier }}</template>
        <template #quantity="{ row: one }"
          ><span class="bar quantity"
            ><NumberField
              :model-value="one.quantity"
              :label="`How many of ${one.line.description} to ${one.supplier}`"
              width="90px"
              @update:model-value="award.give(one.lineId, one.supplierId, $event)"
            />
            <span class="unit">of {{ quantityText(one.line.quantity) }} {{ unit(one.line.unit) }}</span></span
          ></template
        ></LineTable
      >
      <FormField label="Why so" help="Wanted where somebody gets a part who is not the cheapest for it."
        ><ElInput v-model="reason" type="textarea" :rows="2" data-test="award-reason"
      /></FormField>
      <p v-if="tried?.cost" data-test="award-cost">
        <b>{{ amountText(tried.cost) }}</b> {{ comparison.currency }} at landed cost<template
          v-if="tried.above && tried.above !== '0.00'"
          >, {{ amountText(tried.above) }} above the cheapest</template
        >.
        {{
          tried.deciders.length
            ? `Decided by ${tried.deciders.join(', ')}.`
            : 'No rule asks anybody: it stands at once.'
        }}
      </p>
      <ReasonList :reasons="reasons.length ? reasons : (tried?.reasons ?? [])" />
      <p class="bar">
        <ElButton type="primary" :disabled="busy || !tried?.cost" data-primary data-test="propose-award" @click="go">{{
          tried?.deciders.length ? 'Propose the award' : 'Award'
        }}</ElButton>
      </p>
    </template>
  </section>
</template>

<style scoped>
.quantity {
  flex-wrap: nowrap;
  gap: 6px;
}
</style>
