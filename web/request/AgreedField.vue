<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { CallableLines } from '#contract/agreements/agreements.ts'
import type { EditedLine } from '#web/request/useDraft.ts'
import FormField from '#web/shared/FormField.vue'
import { useRead } from '#web/shared/useRead.ts'
import { priceText, unit } from '#web/shared/words.ts'

/** The line of an agreement that work, or what only words say, is called off from: it brings supplier, unit and price along. */
const props = defineProps<{ line: EditedLine; index: number }>()
const emit = defineEmits<{ change: [line: Partial<EditedLine>] }>()
const { data } = useRead(CallableLines)
const lines = computed(() => data.value?.lines ?? [])
function choose(id: string): void {
  const agreed = lines.value.find(one => one.id === id)
  if (!agreed)
    return emit('change', { agreementLineId: null, routes: props.line.routes.filter(one => one !== 'callOff') })
  const { supplierId, currency, price, priceBase, category, description } = agreed
  const rate = props.line.kind === 'workByRate' ? { unit: agreed.unit, price, priceBase } : {}
  emit('change', {
    ...rate,
    agreementLineId: id,
    supplierId,
    currency: currency as 'EUR',
    category: category || props.line.category,
    description: props.line.description || description,
    routes: [...new Set([...props.line.routes, 'callOff' as const])],
  })
}
</script>

<template>
  <FormField v-if="lines.length || line.agreementLineId" class="four" label="Called off from"
    ><ElSelect
      :model-value="line.agreementLineId ?? ''"
      clearable
      filterable
      :value-on-clear="''"
      placeholder="no agreement"
      aria-label="Called off from"
      :data-test="`agreed-${index}`"
      @update:model-value="choose"
      ><ElOption
        v-for="one in lines"
        :key="one.id"
        :value="one.id"
        :label="`${one.number}, ${one.supplier}: ${one.description}, ${one.currency} ${priceText(one.price)} per ${unit(one.unit)}`" /></ElSelect
  ></FormField>
</template>
