<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { ref, shallowRef } from 'vue'
import { SearchCatalogue } from '#contract/request/catalogue.ts'
import { api } from '#web/api.ts'

/** An item of the catalogue, found by its number or words. */
const props = defineProps<{ label: string; mark?: string; words?: string }>()
const value = defineModel<string>({ required: true })
const found = shallowRef<readonly { id: string; label: string }[]>([])
const loading = ref(false)
let asked = 0

async function find(q: string): Promise<void> {
  const turn = ++asked
  const wanted = q.trim() || (props.words ?? '')
  if (wanted === '') return
  loading.value = true
  const answer = await api(SearchCatalogue, { query: { q: wanted.slice(0, 100) } }).catch(() => undefined)
  if (turn !== asked) return
  loading.value = false
  if (answer) found.value = answer.items.map(one => ({ id: one.id, label: `${one.name} ${one.number}` }))
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
    placeholder="Type a number or a word"
    :aria-label="label"
    :data-test="mark"
    @focus="find('')"
    ><ElOption v-for="one in found" :key="one.id" :value="one.id" :label="one.label"
  /></ElSelect>
</template>
