<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { FindSupplierChoices } from '#contract/request/endpoints.ts'
import { api } from '#web/api.ts'
import { useFound } from '#web/shared/useFound.ts'

/** A supplier, found by a part of the name or number. `name`: what the one chosen now is called. */
const props = defineProps<{ name?: string; mark?: string }>()
const value = defineModel<string>({ required: true })
const { found, loading, find } = useFound(
  async q => (await api(FindSupplierChoices, { query: { q } })).suppliers,
  value.value && props.name ? [{ id: value.value, label: props.name }] : [],
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
    placeholder="Type a part of the name"
    aria-label="Supplier"
    :data-test="mark"
    ><ElOption v-for="one in found" :key="one.id" :value="one.id" :label="one.label"
  /></ElSelect>
</template>
