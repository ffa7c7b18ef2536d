<script setup lang="ts">
import { FindSupplierChoices } from '#contract/request/endpoints.ts'
import { api } from '#web/api.ts'
import FoundField from '#web/shared/FoundField.vue'
import type { Found } from '#web/shared/useFound.ts'

/** A supplier, found by a part of the name or number. `name`: what the one chosen now is called. */
const props = defineProps<{ name?: string; mark?: string }>()
const value = defineModel<string>({ required: true })
const first = value.value && props.name ? [{ id: value.value, label: props.name }] : []
const search = async (q: string): Promise<readonly Found[]> =>
  (await api(FindSupplierChoices, { query: { q } })).suppliers
</script>

<template>
  <FoundField
    v-model="value"
    label="Supplier"
    :mark="mark"
    :first="first"
    :search="search"
    placeholder="Type a part of the name"
  />
</template>
