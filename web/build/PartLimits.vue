<script setup lang="ts">
import { ElButton, ElCheckbox, ElOption, ElSelect } from 'element-plus'
import { computed, reactive } from 'vue'
import { PACKINGS } from '#core/build/offers.ts'
import { POLICIES } from '#core/build/settings.ts'
import CountriesField from '#web/build/CountriesField.vue'
import type { Costing, Parts } from '#web/build/useCosting.ts'
import DayField from '#web/shared/DayField.vue'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import NumberField from '#web/shared/NumberField.vue'

/** What is said for one part alone; what is left empty is as for the whole. */
type Own = Parts[string]
const props = defineProps<{ costing: Costing; own: Own | undefined; assembly: boolean; busy: boolean }>()
const emit = defineEmits<{ change: [own: Own] }>()
const form = reactive({
  onHand: props.own?.onHand ?? '',
  percent: props.own?.wastage?.percent ?? '',
  pieces: props.own?.wastage?.pieces ?? '',
  policy: (props.own?.policy ?? '') as string,
  packing: (props.own?.packing ?? '') as string,
  countries: [...(props.own?.countries ?? [])],
  inBy: props.own?.inBy ?? '',
  exact: props.own?.excess === false,
  stocked: props.own?.stockedOnly === true,
})
const inBy = computed({ get: () => form.inBy || null, set: (day: string | null) => void (form.inBy = day ?? '') })
const keep = (): void =>
  emit('change', {
    onHand: form.onHand || undefined,
    wastage: form.percent || form.pieces ? { percent: form.percent || '0', pieces: form.pieces || '0' } : undefined,
    policy: (form.policy || undefined) as Own['policy'],
    packing: (form.packing || undefined) as Own['packing'],
    countries: form.countries.length > 0 ? [...form.countries] : undefined,
    inBy: form.inBy || undefined,
    excess: form.exact ? false : undefined,
    stockedOnly: form.stocked ? true : undefined,
  })
</script>

<template>
  <section class="section" data-test="part-limits">
    <h3>For this part alone <small class="quiet">empty: as the whole</small></h3>
    <div class="own">
      <FormField label="In the house"
        ><NumberField v-model="form.onHand" label="In the house" width="100px"
      /></FormField>
      <FormField label="Wastage, %"
        ><NumberField v-model="form.percent" label="Wastage, per cent" width="90px"
      /></FormField>
      <FormField label="Wastage, pieces"
        ><NumberField v-model="form.pieces" label="Wastage, pieces" width="90px"
      /></FormField>
      <FormField label="From whom"
        ><ElSelect
          v-model="form.policy"
          aria-label="From whom"
          clearable
          :value-on-clear="''"
          class="choice"
          placeholder="as the whole"
          ><ElOption
            v-for="one in POLICIES"
            :key="one"
            :value="one"
            :label="laterLabel('build policy', one)" /></ElSelect
      ></FormField>
      <FormField label="Packs"
        ><ElSelect
          v-model="form.packing"
          aria-label="Packs"
          clearable
          :value-on-clear="''"
          class="choice"
          placeholder="as the whole"
          ><ElOption
            v-for="one in PACKINGS"
            :key="one"
            :value="one"
            :label="laterLabel('build packing', one)" /></ElSelect
      ></FormField>
      <FormField label="In by"><DayField v-model="inBy" label="In by" empty="as the whole" /></FormField>
      <FormField label="Countries that it comes from"
        ><CountriesField v-model="form.countries" :known="costing.known"
      /></FormField>
    </div>
    <p class="bar">
      <ElCheckbox v-model="form.exact">exactly what is needed</ElCheckbox>
      <ElCheckbox v-model="form.stocked">only what lies there</ElCheckbox>
      <ElCheckbox
        v-if="assembly || own?.made === false"
        :model-value="own?.made !== false"
        @update:model-value="made => emit('change', { made: made ? undefined : false })"
        >made of its parts</ElCheckbox
      >
      <ElButton :disabled="busy" data-test="keep-part" @click="keep">Keep</ElButton>
    </p>
  </section>
</template>

<style scoped>
.own {
  display: flex;
  flex-wrap: wrap;
  gap: 0 16px;
}
.choice {
  width: 200px;
}
</style>
