<script setup lang="ts">
import { ElCheckbox, ElInput, ElOption, ElSelect } from 'element-plus'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { CatalogueFacts, CatalogueQuery } from '#contract/request/catalogue.ts'
import { useSession } from '#web/people/session.ts'

/** Facts by which the catalogue is narrowed. */
const props = defineProps<{ facts: ResponseOf<typeof CatalogueFacts> | undefined; query: CatalogueQuery }>()
const emit = defineEmits<{ set: [change: Record<string, string | undefined>] }>()
const session = useSession()
const YES_FACTS = [
  ['agreement', 'on agreement'],
  ['stocked', 'stocked'],
  ['certified', 'certified'],
] as const
const set = (key: keyof CatalogueQuery, value: unknown): void =>
  emit('set', { [key]: String(value || '') || undefined })
</script>

<template>
  <div class="facts">
    <ElSelect
      :model-value="props.query.supplier ?? ''"
      filterable
      default-first-option
      clearable
      :value-on-clear="''"
      placeholder="any supplier"
      aria-label="Supplier"
      size="small"
      data-test="filter-supplier"
      @update:model-value="set('supplier', $event)"
      ><ElOption v-for="one in facts?.suppliers" :key="one.id" :value="one.id" :label="one.name"
    /></ElSelect>
    <ElInput
      :model-value="query.upTo ?? ''"
      size="small"
      :aria-label="`At most, ${session.base} each`"
      :placeholder="`up to, ${session.base} each`"
      @change="set('upTo', String($event).replace(',', '.'))"
    /><ElInput
      :model-value="query.within ?? ''"
      size="small"
      aria-label="Within working days"
      placeholder="within … working days"
      @change="set('within', $event)"
    />
    <ElSelect
      :model-value="query.country ?? ''"
      clearable
      :value-on-clear="''"
      placeholder="delivered to"
      aria-label="Delivered to"
      size="small"
      @update:model-value="set('country', $event)"
      ><ElOption v-for="one in facts?.countries" :key="one" :value="one" :label="one"
    /></ElSelect>
    <ElCheckbox
      v-for="[key, words] in YES_FACTS"
      :key="key"
      :model-value="query[key] === 'yes'"
      :label="words"
      :data-test="`filter-${key}`"
      @change="set(key, $event ? 'yes' : '')"
    />
  </div>
</template>

<style scoped>
.facts {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 6px 12px;
  margin: 4px 0 10px;
  max-width: 720px;
}
</style>
