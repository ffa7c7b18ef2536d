<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { SearchCatalogue } from '#contract/request/catalogue.ts'
import { api } from '#web/api.ts'
import { useFound } from '#web/shared/useFound.ts'

/** An item of the catalogue, found by its number or words. */
const props = defineProps<{ label: string; mark?: string; words?: string }>()
const value = defineModel<string>({ required: true })
const { found, loading, find } = useFound(async q =>
  (await api(SearchCatalogue, { query: { q: q.slice(0, 100) } })).items.map(one => ({
    id: one.id,
    label: `${one.name} ${one.number}`,
  })),
)
</script>

<template>
  <ElSelect
    v-model="value"
    filterable
    remote
    default-first-option
    clearable
    :value-on-clear="''"
    :remote-method="find"
    :loading="loading"
    placeholder="Type a number or a word"
    :aria-label="label"
    :data-test="mark"
    @focus="find(props.words ?? '')"
    ><ElOption v-for="one in found" :key="one.id" :value="one.id" :label="one.label"
  /></ElSelect>
</template>
