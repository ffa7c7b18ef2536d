<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { ref, shallowRef } from 'vue'
import { FindSupplierChoices } from '#contract/request/endpoints.ts'
import { api } from '#web/api.ts'

/** A supplier, found by a part of the name or number. `name`: what the one chosen now is called. */
const props = defineProps<{ name?: string; mark?: string }>()
const value = defineModel<string>({ required: true })
const found = shallowRef<readonly { id: string; label: string }[]>(
  value.value && props.name ? [{ id: value.value, label: props.name }] : [],
)
const loading = ref(false)
let asked = 0

async function find(q: string): Promise<void> {
  const turn = ++asked
  loading.value = true
  const answer = q.trim() ? await api(FindSupplierChoices, { query: { q } }).catch(() => undefined) : undefined
  if (turn !== asked) return
  loading.value = false
  if (answer) found.value = answer.suppliers
}
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
