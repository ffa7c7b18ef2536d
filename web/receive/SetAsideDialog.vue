<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { reactive } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { type ReadSetAside, SetAside } from '#contract/receive/setAside.ts'
import { UNITS } from '#core/units/units.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { unit } from '#web/shared/words.ts'

/** What stands on something that nobody ordered, where it lies, and who is told. */
const props = defineProps<{ choices: Pick<ResponseOf<typeof ReadSetAside>, 'places' | 'suppliers' | 'buyers'> }>()
const emit = defineEmits<{ close: []; done: [] }>()
const { busy, reasons, run } = useAction()
const form = reactive({
  description: '',
  quantity: '1',
  unit: 'C62',
  placeId: localStorage.getItem('place') ?? props.choices.places[0]?.id ?? '',
  bin: '',
  supplierId: null as string | null,
  marks: '',
  note: '',
  buyerId: null as string | null,
})
async function keep(): Promise<void> {
  if (await run(() => api(SetAside, { body: { ...form } }))) emit('done')
}
const units = Object.keys(UNITS)
</script>

<template>
  <ElDialog :model-value="true" title="Put something aside" width="560px" @close="emit('close')">
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="keep">
      <FormField label="What it is" place="description" whole
        ><ElInput v-model="form.description" maxlength="500" data-test="aside-what" /></FormField
      ><FormField label="How much" place="quantity"
        ><NumberField v-model="form.quantity" label="How much" data-test="aside-quantity" /></FormField
      ><FormField label="Unit"
        ><ElSelect v-model="form.unit" filterable
          ><ElOption v-for="one in units" :key="one" :value="one" :label="unit(one)" /></ElSelect></FormField
      ><FormField label="Where it lies"
        ><ElSelect v-model="form.placeId" filterable
          ><ElOption
            v-for="one in choices.places"
            :key="one.id"
            :value="one.id"
            :label="one.label" /></ElSelect></FormField
      ><FormField label="Bin or corner"><ElInput v-model="form.bin" maxlength="40" /></FormField
      ><FormField label="From whom, if it is known"
        ><ElSelect v-model="form.supplierId" filterable clearable placeholder="not known" :value-on-clear="null"
          ><ElOption
            v-for="one in choices.suppliers"
            :key="one.id"
            :value="one.id"
            :label="one.label" /></ElSelect></FormField
      ><FormField label="What stands on it" help="Sender, tracking, any number"
        ><ElInput v-model="form.marks" maxlength="500" /></FormField
      ><FormField label="Who is told"
        ><ElSelect
          v-model="form.buyerId"
          filterable
          clearable
          placeholder="whoever buys"
          :value-on-clear="null"
          data-test="aside-buyer"
          ><ElOption
            v-for="one in choices.buyers"
            :key="one.id"
            :value="one.id"
            :label="one.label" /></ElSelect></FormField
      ><FormField label="A word to them" whole
        ><ElInput v-model="form.note" type="textarea" :rows="2" maxlength="4000" data-test="aside-note"
      /></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="keep-aside">Put it aside</ElButton>
      </template>
    </EntryForm>
  </ElDialog>
</template>
