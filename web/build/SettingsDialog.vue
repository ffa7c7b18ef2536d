<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElOption, ElRadio, ElRadioGroup, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import { PACKINGS } from '#core/build/offers.ts'
import { ALTERNATE_RULES, POLICIES, whyNotSettings } from '#core/build/settings.ts'
import CountriesField from '#web/build/CountriesField.vue'
import type { Costing, Settings } from '#web/build/useCosting.ts'
import CurrencyField from '#web/shared/CurrencyField.vue'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import NumberField from '#web/shared/NumberField.vue'

/** How the whole build is bought. */
const props = defineProps<{ costing: Costing; settings: Settings }>()
const emit = defineEmits<{ close: []; keep: [settings: Settings] }>()
const form = reactive(JSON.parse(JSON.stringify(props.settings)) as Settings)
const categories = computed(() =>
  [...new Set(props.costing.known.items.map(one => one.category))].filter(Boolean).sort(),
)
const category = ref('')
const inBy = computed({ get: () => form.inBy || null, set: (day: string | null) => void (form.inBy = day ?? '') })
const faults = computed(() => whyNotSettings(form).map(one => ({ ...one, clearedBy: undefined })))
function addCategory(): void {
  if (category.value && !(category.value in form.wastageByCategory))
    form.wastageByCategory = { ...form.wastageByCategory, [category.value]: { percent: '0', pieces: '0' } }
  category.value = ''
}
function dropCategory(name: string): void {
  const { [name]: _gone, ...rest } = form.wastageByCategory
  form.wastageByCategory = rest
}
const keep = (): void => {
  if (faults.value.length === 0) emit('keep', JSON.parse(JSON.stringify(form)) as Settings)
}
</script>

<template>
  <ElDialog :model-value="true" title="How it is bought" width="620" append-to-body @closed="emit('close')">
    <EntryForm :reasons="faults" :busy="false" @submit="keep">
      <FormField label="From whom" place="policy"
        ><ElSelect v-model="form.policy" aria-label="From whom" data-test="build-policy"
          ><ElOption
            v-for="one in POLICIES"
            :key="one"
            :value="one"
            :label="laterLabel('build policy', one)" /></ElSelect
      ></FormField>
      <FormField
        label="Preferred suppliers"
        help="In their order: of two that cost the same the earlier one is taken. A part that none of them offers comes from the others."
        ><ElSelect
          v-model="form.preferred"
          multiple
          filterable
          placeholder="nobody in particular"
          aria-label="Preferred suppliers"
          data-test="build-preferred"
          ><ElOption v-for="one in costing.known.suppliers" :key="one.id" :value="one.id" :label="one.name" /></ElSelect
      ></FormField>
      <FormField label="Countries that goods come from"
        ><CountriesField v-model="form.countries" :known="costing.known"
      /></FormField>
      <FormField label="All in by" place="inBy"
        ><DayField v-model="inBy" label="All in by" empty="whenever it comes"
      /></FormField>
      <FormField label="Packs"
        ><ElSelect v-model="form.packing" aria-label="Packs" data-test="build-packing"
          ><ElOption value="any" :label="laterLabel('build packing', 'any')" /><ElOption
            v-for="one in PACKINGS"
            :key="one"
            :value="one"
            :label="laterLabel('build packing', one)" /></ElSelect
      ></FormField>
      <p class="checks">
        <ElCheckbox v-model="form.excess" data-test="build-excess"
          >More than needed may be bought where that is cheaper</ElCheckbox
        >
        <ElCheckbox v-model="form.stockedOnly" data-test="build-stocked"
          >Only what suppliers have lying there</ElCheckbox
        >
        <ElCheckbox v-model="form.ownStock">What is in the house is used first</ElCheckbox>
      </p>
      <FormField label="Alternates are taken"
        ><ElRadioGroup v-model="form.alternates" data-test="build-alternates"
          ><ElRadio v-for="one in ALTERNATE_RULES" :key="one" :value="one">{{
            laterLabel('build alternates', one)
          }}</ElRadio></ElRadioGroup
        ></FormField
      >
      <FormField label="Wastage, per cent and pieces once" place="wastage.percent"
        ><span class="bar"
          ><NumberField v-model="form.wastage.percent" label="Wastage, per cent" width="110px" /><NumberField
            v-model="form.wastage.pieces"
            label="Wastage, pieces"
            width="110px" /></span
      ></FormField>
      <FormField v-for="(one, name) in form.wastageByCategory" :key="name" :label="`Wastage of ${name}`"
        ><span class="bar"
          ><NumberField v-model="one.percent" :label="`Wastage of ${name}, per cent`" width="110px" /><NumberField
            v-model="one.pieces"
            :label="`Wastage of ${name}, pieces`"
            width="110px"
          /><ElButton link @click="dropCategory(String(name))">as all others</ElButton></span
        ></FormField
      >
      <FormField label="Another wastage for a category"
        ><span class="bar"
          ><ElSelect v-model="category" aria-label="Category" clearable class="category" @change="addCategory"
            ><ElOption v-for="one in categories" :key="one" :value="one" :label="one" /></ElSelect></span
      ></FormField>
      <FormField label="Currency" place="currency" help="A rate that is not known yet is taken as of today."
        ><CurrencyField v-model="form.currency"
      /></FormField>
      <p class="bar">
        <ElButton type="primary" native-type="submit" :disabled="faults.length > 0" data-test="keep-settings"
          >Buy it so</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.checks {
  display: flex;
  flex-direction: column;
  gap: 2px;
  margin: 4px 0 10px;
}
.category {
  width: 220px;
}
</style>
