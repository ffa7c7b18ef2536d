<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import type { Characteristic } from '#core/receive/terms.ts'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'

/** What is looked at where goods are inspected: with limits or a unit it is measured, without it passes or fails. */
const all = defineModel<readonly Characteristic[]>({ required: true })
const set = (index: number, changed: Partial<Characteristic>): void => {
  all.value = all.value.map((one, at) => (at === index ? { ...one, ...changed } : one))
}
const rows = (): { index: number; one: Characteristic }[] => all.value.map((one, index) => ({ index, one }))
</script>

<template>
  <FormField label="What is looked at" whole place="receiving" help="Without unit and limits it passes or fails"
    ><LineTable
      v-if="all.length"
      :rows="rows()"
      :columns="lineColumns({ name: 'What', unit: 'Unit', low: 'From', high: 'To', out: '' })"
      label="What is looked at"
      bare
      :key-of="row => String(row.index)"
      ><template #name="{ row }"
        ><ElInput
          :model-value="row.one.name"
          :aria-label="`What is looked at, ${row.index + 1}`"
          :data-test="`characteristic-${row.index}`"
          maxlength="200"
          @update:model-value="set(row.index, { name: $event })" /></template
      ><template #unit="{ row }"
        ><ElInput
          :model-value="row.one.unit"
          :aria-label="`Unit of ${row.one.name}`"
          maxlength="20"
          style="width: 80px"
          @update:model-value="set(row.index, { unit: $event })" /></template
      ><template #low="{ row }"
        ><NumberField
          :model-value="row.one.low"
          :label="`Least of ${row.one.name}`"
          width="90px"
          @update:model-value="set(row.index, { low: $event })" /></template
      ><template #high="{ row }"
        ><NumberField
          :model-value="row.one.high"
          :label="`Most of ${row.one.name}`"
          width="90px"
          @update:model-value="set(row.index, { high: $event })" /></template
      ><template #out="{ row }"
        ><ElButton
          link
          :aria-label="`Take ${row.one.name} out`"
          @click="all = all.filter((_one, index) => index !== row.index)"
          >Take out</ElButton
        ></template
      ></LineTable
    ><ElButton data-test="add-characteristic" @click="all = [...all, { name: '', unit: '', low: '', high: '' }]"
      >Another thing to look at</ElButton
    ></FormField
  >
</template>
