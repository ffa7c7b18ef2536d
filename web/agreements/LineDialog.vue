<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { ref } from 'vue'
import { SearchCatalogue } from '#contract/request/catalogue.ts'
import { api } from '#web/api.ts'
import type { ContentLine } from '#web/agreements/agreementText.ts'
import PricingFields from '#web/agreements/PricingFields.vue'
import CurrencyField from '#web/shared/CurrencyField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import FoundField from '#web/shared/FoundField.vue'
import NumberField from '#web/shared/NumberField.vue'
import UnitField from '#web/shared/UnitField.vue'

/** One line of an agreement: what, at which price, how much at least, how soon. */
const props = defineProps<{ line: ContentLine; startsOn: string; categories: readonly string[]; itemName: string }>()
const emit = defineEmits<{ close: []; keep: [line: ContentLine] }>()
const line = ref<ContentLine>(JSON.parse(JSON.stringify(props.line)) as ContentLine)
const item = ref(props.line.itemId ?? '')
const units = ref(new Map<string, { unit: string; name: string; category: string }>())

async function search(q: string) {
  const { items } = await api(SearchCatalogue, { query: { q: q.slice(0, 100) } })
  for (const one of items) units.value.set(one.id, { unit: one.unit, name: one.name, category: one.category })
  return items.map(one => ({ id: one.id, label: `${one.name} ${one.number}` }))
}
function chosen(id: string): void {
  item.value = id
  line.value.itemId = id === '' ? null : id
  const found = units.value.get(id)
  if (found) Object.assign(line.value, { unit: found.unit, description: found.name, category: found.category })
}
const lead = (days: string): void => {
  line.value.leadTimeDays = Math.max(0, Math.round(Number(days) || 0))
}
</script>

<template>
  <ElDialog :model-value="true" title="What is agreed" width="640" append-to-body @close="emit('close')">
    <EntryForm :reasons="[]" :busy="false" columns @submit="emit('keep', line)">
      <FormField label="Item of the catalogue" help="Empty: work, or what only words say." whole
        ><FoundField
          :model-value="item"
          label="Item of the catalogue"
          placeholder="Type a number or a word"
          mark="agreement-item"
          :first="line.itemId ? [{ id: line.itemId, label: itemName || line.description }] : []"
          :search="search"
          @update:model-value="chosen"
      /></FormField>
      <FormField label="In words" whole
        ><ElInput v-model="line.description" maxlength="200" data-test="agreement-line-words"
      /></FormField>
      <FormField label="Category"
        ><ElSelect v-model="line.category" filterable aria-label="Category" data-test="agreement-category"
          ><ElOption v-for="one in categories" :key="one" :value="one" :label="one" /></ElSelect
      ></FormField>
      <FormField label="Unit"><UnitField v-model="line.unit" /></FormField>
      <FormField label="Currency"><CurrencyField v-model="line.currency" /></FormField>
      <FormField label="Price for how many"
        ><NumberField v-model="line.priceBase" label="Price for how many"
      /></FormField>
      <PricingFields v-model="line.pricing" :starts-on="startsOn" />
      <FormField label="List price" help="What it would cost without the agreement: savings are measured by it."
        ><NumberField v-model="line.listPrice" label="List price"
      /></FormField>
      <FormField label="Least called off"><NumberField v-model="line.minimum" label="Least called off" /></FormField>
      <FormField label="In steps of" help="0: any quantity."
        ><NumberField v-model="line.multiple" label="In steps of"
      /></FormField>
      <FormField label="Lead time in working days"
        ><NumberField
          :model-value="String(line.leadTimeDays)"
          label="Lead time in working days"
          @update:model-value="lead"
      /></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" data-test="keep-agreement-line">Keep the line</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>
