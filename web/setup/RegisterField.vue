<script setup lang="ts">
import { ElDatePicker, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { ReadRegister } from '#contract/setup/registers.ts'
import { type Field, WEEKDAYS } from '#core/setup/registers.ts'
import CurrencyField from '#web/shared/CurrencyField.vue'
import { useRead } from '#web/shared/useRead.ts'
import { optionText } from '#web/setup/registerWords.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** A field of a register, by what it holds. */
const props = defineProps<{ field: Field }>()
const value = defineModel<string>({ required: true })
const others = useRead(ReadRegister, () => ({ params: { register: props.field.of ?? 'sites' } }), {
  when: () => props.field.type === 'entry',
})
const options = computed(() =>
  (others.data.value?.entries ?? [])
    .filter(entry => entry.open || entry.values.code === value.value)
    .map(entry => ({ value: entry.values.code!, label: `${entry.values.code}, ${entry.values.name}` })),
)
const zones = Intl.supportedValuesOf('timeZone')
const days = computed({
  get: () => value.value.split(' ').filter(Boolean),
  set: some => {
    value.value = WEEKDAYS.filter(one => some.includes(one)).join(' ')
  },
})
</script>

<template>
  <ElSelect
    v-if="field.type === 'entry'"
    v-model="value"
    filterable
    default-first-option
    :data-test="`field-${field.key}`"
    ><ElOption v-for="one in options" :key="one.value" :value="one.value" :label="one.label"
  /></ElSelect>
  <ElSelect
    v-else-if="field.type === 'choice'"
    v-model="value"
    filterable
    :clearable="field.optional"
    @clear="value = ''"
    default-first-option
    :data-test="`field-${field.key}`"
    ><ElOption v-for="one in field.options" :key="one" :value="one" :label="optionText(field, one)"
  /></ElSelect>
  <ElSelect
    v-else-if="field.type === 'zone'"
    v-model="value"
    filterable
    default-first-option
    :data-test="`field-${field.key}`"
    ><ElOption v-for="one in zones" :key="one" :value="one" :label="one"
  /></ElSelect>
  <ElSelect v-else-if="field.type === 'restDays'" v-model="days" multiple :data-test="`field-${field.key}`"
    ><ElOption v-for="one in WEEKDAYS" :key="one" :value="one" :label="laterLabel('weekday', one)"
  /></ElSelect>
  <CurrencyField
    v-else-if="field.type === 'currency'"
    v-model="value"
    :clearable="field.optional"
    @clear="value = ''"
    :data-test="`field-${field.key}`"
  />
  <ElDatePicker
    v-else-if="field.type === 'day'"
    v-model="value"
    type="date"
    value-format="YYYY-MM-DD"
    :clearable="false"
    :data-test="`field-${field.key}`"
  />
  <ElInput v-else v-model="value" maxlength="200" :data-test="`field-${field.key}`" />
</template>
