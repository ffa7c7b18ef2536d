<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { type Found, useFound } from '#web/shared/useFound.ts'

/**
 * Something out of very many, found on the server by what is typed. `first`: what the one chosen now is called;
 * `words`: what is looked for at once.
 */
const props = defineProps<{
  label: string
  placeholder: string
  search: (q: string) => Promise<readonly Found[]>
  first?: readonly Found[]
  words?: string
  mark?: string | undefined
}>()
const value = defineModel<string>({ required: true })
const { found, loading, find } = useFound(props.search, props.first)
const begin = (): void => {
  if (props.words) void find(props.words)
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
    :placeholder="placeholder"
    :aria-label="label"
    :data-test="mark"
    @focus="begin"
    ><ElOption v-for="one in found" :key="one.id" :value="one.id" :label="one.label"
  /></ElSelect>
</template>
