<script setup lang="ts">
import { SearchCatalogue } from '#contract/request/catalogue.ts'
import { api } from '#web/api.ts'
import FoundField from '#web/shared/FoundField.vue'
import type { Found } from '#web/shared/useFound.ts'

/** An item of the catalogue, found by its number or words. */
defineProps<{ label: string; mark?: string; words?: string }>()
const value = defineModel<string>({ required: true })
async function search(q: string): Promise<Found[]> {
  const { items } = await api(SearchCatalogue, { query: { q: q.slice(0, 100) } })
  return items.map(one => ({ id: one.id, label: `${one.name} ${one.number}` }))
}
</script>

<template>
  <FoundField
    v-model="value"
    :label="label"
    :mark="mark"
    :words="words ?? ''"
    :search="search"
    placeholder="Type a number or a word"
  />
</template>
