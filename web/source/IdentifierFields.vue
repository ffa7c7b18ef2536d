<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import type { ReasonJson } from '#contract/fields.ts'
import type { SupplierBody } from '#contract/source/record.ts'
import { IDENTIFIER_SCHEMES } from '#core/source/schemes.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** Numbers by which a supplier is known: tax, registration and the like. */
const props = defineProps<{ reasons: readonly ReasonJson[] }>()
const identifiers = defineModel<SupplierBody['identifiers']>({ required: true })
const at = (place: string): readonly ReasonJson[] => props.reasons.filter(reason => reason.place === place)
</script>

<template>
  <section class="section">
    <h2>Numbers</h2>
    <div v-for="(one, index) in identifiers" :key="index" class="line" :data-place="`identifiers.${index}.value`">
      <ElSelect v-model="one.scheme" aria-label="Kind of number" style="width: 180px"
        ><ElOption
          v-for="scheme in IDENTIFIER_SCHEMES"
          :key="scheme"
          :value="scheme"
          :label="laterLabel('scheme', scheme)" /></ElSelect
      ><ElInput v-model="one.value" aria-label="Number" data-test="identifier" /><ElButton
        link
        @click="identifiers.splice(index, 1)"
      >
        take out</ElButton
      ><span v-for="reason in at(`identifiers.${index}.value`)" :key="reason.code" class="field-fault">{{
        reason.code === 'source.shared' ? 'another record has it' : 'not valid'
      }}</span>
    </div>
    <ElButton link @click="identifiers.push({ scheme: 'registration', value: '' })"> Add a number </ElButton>
  </section>
</template>

<style scoped>
.line {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-bottom: 8px;
  max-width: 620px;
}
.section {
  margin-top: 10px;
}
</style>
