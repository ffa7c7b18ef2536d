<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import type { DefaultsJson } from '#contract/source/record.ts'
import { currencies } from '#core/money/currency.ts'
import {
  DEFAULT_CHOICES,
  type DefaultKey,
  DEFAULT_KEYS,
  effective,
  type Level,
  type SupplierDefaults,
} from '#core/source/defaults.ts'
import { label } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** The defaults of one level. Each field shows what holds when it says nothing, and where that comes from; emptied, it is set back. */
const props = defineProps<{
  above: readonly (readonly [Level, SupplierDefaults])[]
  level: Level
  place: string
  keys?: readonly DefaultKey[]
}>()
const model = defineModel<DefaultsJson>({ required: true })

const inherited = (key: DefaultKey): string => {
  const value = effective(props.above, key)
  return value === '' ? '' : laterLabel('default value', value)
}
const choices = (key: DefaultKey): readonly string[] | undefined =>
  key === 'currency' ? currencies : DEFAULT_CHOICES[key]
function set(key: DefaultKey, value: string | undefined): void {
  const next: Record<string, unknown> = { ...model.value }
  if (value === undefined || value === '') delete next[key]
  else next[key] = value
  model.value = next as DefaultsJson
}
</script>

<template>
  <div class="form-grid">
    <label v-for="key in keys ?? DEFAULT_KEYS" :key="key" :data-place="`${place}.${key}`"
      >{{ laterLabel('default', key) }}
      <ElSelect
        v-if="choices(key)"
        :model-value="model[key] ?? ''"
        clearable
        filterable
        default-first-option
        :placeholder="inherited(key)"
        :value-on-clear="''"
        :aria-label="laterLabel('default', key)"
        @update:model-value="set(key, $event)"
      >
        <ElOption v-for="one in choices(key)" :key="one" :value="one" :label="laterLabel('default value', one)"
      /></ElSelect>
      <ElInput
        v-else
        :model-value="model[key] ?? ''"
        :placeholder="inherited(key)"
        :aria-label="laterLabel('default', key)"
        @update:model-value="set(key, $event)"
      />
      <small class="quiet"
        ><template v-if="model[key] === undefined">{{
          inherited(key) === ''
            ? 'not set'
            : label('from', above.filter(([, values]) => values[key] !== undefined).at(-1)?.[0] ?? 'house')
        }}</template
        ><template v-else
          >{{ label('from', level) }} <ElButton link @click="set(key, undefined)">set back</ElButton></template
        ></small
      >
    </label>
  </div>
</template>

<style scoped>
small {
  font-size: 11.3px;
  min-height: 17px;
}
small .el-button {
  font-size: 11.3px;
}
</style>
