<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import type { Content } from '#web/agreements/agreementText.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'

/** How much may be called off: in all, of a category, or of one line. */
const props = defineProps<{ content: Content }>()
const ceilings = defineModel<Content['ceilings']>({ required: true })
type Ceiling = Content['ceilings'][number]
const choices = computed(() => [
  { key: 'whole', label: 'In all' },
  ...[...new Set(props.content.lines.map(line => line.category).filter(Boolean))].map(one => ({
    key: `category ${one}`,
    label: `All of ${one}`,
  })),
  ...props.content.lines.map(line => ({ key: `line ${line.id}`, label: line.description || 'A line without words' })),
])
const keyOf = (one: Ceiling): string =>
  one.scope === 'whole' ? 'whole' : one.scope === 'category' ? `category ${one.category}` : `line ${one.lineId ?? ''}`
function choose(one: Ceiling, key: string): void {
  const [scope, ...rest] = key.split(' ')
  const of = rest.join(' ')
  one.scope = scope as Ceiling['scope']
  one.category = scope === 'category' ? of : ''
  one.lineId = scope === 'line' ? of : null
  if (scope !== 'line') one.quantity = ''
}
const add = (): void =>
  void ceilings.value.push({ scope: 'whole', category: '', lineId: null, amount: '', quantity: '' })
</script>

<template>
  <LineTable
    v-if="ceilings.length"
    :rows="ceilings"
    :columns="lineColumns({ of: 'Of what', amount: content.currency, quantity: 'Quantity', '-acts': 'Acts' })"
    label="Ceilings"
    ><template #of="{ row: one, index }"
      ><ElSelect
        :model-value="keyOf(one)"
        :aria-label="`Of what, ceiling ${index + 1}`"
        :data-place="`ceilings.${index}`"
        @update:model-value="choose(one, $event)"
        ><ElOption v-for="choice in choices" :key="choice.key" :value="choice.key" :label="choice.label" /></ElSelect
    ></template>
    <template #amount="{ row: one, index }"
      ><NumberField v-model="one.amount" :label="`Amount, ceiling ${index + 1}`" width="120px"
    /></template>
    <template #quantity="{ row: one, index }"
      ><NumberField
        v-if="one.scope === 'line'"
        v-model="one.quantity"
        :label="`Quantity, ceiling ${index + 1}`"
        width="100px" /></template
    ><template #acts="{ index }"
      ><ElButton link :aria-label="`Take out ceiling ${index + 1}`" @click="ceilings.splice(index, 1)"
        >take out</ElButton
      ></template
    ></LineTable
  >
  <p class="bar"><ElButton data-test="add-ceiling" @click="add">Add a ceiling</ElButton></p>
</template>
