<script setup lang="ts">
import { ElButton, ElDialog, ElOption, ElRadio, ElRadioGroup, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'
import type { Plan } from '#web/award/planText.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'

/** What a supplier offers beside its prices: rebates by what is bought there, a charge once, lines that are cheaper together. */
const props = defineProps<{ plan: Plan; reasons: readonly ReasonJson[]; busy: boolean }>()
const emit = defineEmits<{ close: []; keep: [terms: Plan['terms']] }>()
const terms = ref<Plan['terms']>(JSON.parse(JSON.stringify(props.plan.terms)) as Plan['terms'])
const supplierId = ref(props.plan.suppliers[0]?.id ?? '')
const own = computed(
  () => terms.value.suppliers[supplierId.value] ?? { charge: '', rebates: [], rebateOn: 'everything' as const },
)
const set = (changed: Partial<Plan['terms']['suppliers'][string]>): void =>
  void (terms.value.suppliers[supplierId.value] = { ...own.value, ...changed })
const setLevel = (index: number, changed: object): void =>
  set({ rebates: own.value.rebates.map((one, at) => (at === index ? { ...one, ...changed } : one)) })
const bundles = computed(() =>
  terms.value.bundles.map((one, index) => ({ ...one, index })).filter(one => one.supplierId === supplierId.value),
)
const setBundle = (index: number, changed: object): void =>
  void (terms.value.bundles = terms.value.bundles.map((one, at) => (at === index ? { ...one, ...changed } : one)))
/** Rows that say nothing are not kept. */
const keep = (): void =>
  emit('keep', {
    ...terms.value,
    suppliers: Object.fromEntries(
      Object.entries(terms.value.suppliers).map(([id, one]) => [
        id,
        { ...one, rebates: one.rebates.filter(level => level.from !== '' && level.percent !== '') },
      ]),
    ),
    bundles: terms.value.bundles.filter(one => one.lineIds.length > 1 && one.percent !== ''),
  })
</script>

<template>
  <ElDialog :model-value="true" title="Their terms" width="620" append-to-body @closed="emit('close')">
    <EntryForm :reasons="reasons" :busy="busy" @submit="keep">
      <FormField label="Supplier"
        ><ElSelect v-model="supplierId" filterable aria-label="Supplier" data-test="terms-supplier"
          ><ElOption v-for="one in plan.suppliers" :key="one.id" :value="one.id" :label="one.name" /></ElSelect
      ></FormField>
      <FormField :label="`Charged once, ${plan.currency}`"
        ><NumberField
          :model-value="own.charge"
          label="Charged once"
          width="130px"
          @update:model-value="set({ charge: $event })"
      /></FormField>
      <FormField label="Rebate on what is bought here"
        ><ElRadioGroup :model-value="own.rebateOn" @update:model-value="set({ rebateOn: $event as 'above' })"
          ><ElRadio value="everything">a level counts for everything</ElRadio
          ><ElRadio value="above">only for what is above it</ElRadio></ElRadioGroup
        ></FormField
      >
      <p v-for="(level, index) in own.rebates" :key="index" class="bar">
        from {{ plan.currency }}
        <NumberField
          :model-value="level.from"
          :label="`Level ${index + 1} from`"
          width="130px"
          @update:model-value="setLevel(index, { from: $event })"
        />
        on
        <NumberField
          :model-value="level.percent"
          :label="`Level ${index + 1}, per cent`"
          width="80px"
          @update:model-value="setLevel(index, { percent: $event })"
        />
        %
        <ElButton link @click="set({ rebates: own.rebates.filter((_one, at) => at !== index) })">take out</ElButton>
      </p>
      <p>
        <ElButton link data-test="add-level" @click="set({ rebates: [...own.rebates, { from: '', percent: '' }] })"
          >add a level</ElButton
        >
      </p>
      <p v-for="bundle in bundles" :key="bundle.index" class="bar">
        <ElSelect
          :model-value="bundle.lineIds"
          multiple
          filterable
          collapse-tags
          aria-label="Lines together"
          class="together"
          @update:model-value="setBundle(bundle.index, { lineIds: $event })"
          ><ElOption
            v-for="one in plan.lines"
            :key="one.id"
            :value="one.id"
            :label="`${one.position} ${one.description}`" /></ElSelect
        >together,
        <NumberField
          :model-value="bundle.percent"
          label="Per cent off"
          width="80px"
          @update:model-value="setBundle(bundle.index, { percent: $event })"
        />
        % off
        <ElButton link @click="terms.bundles = terms.bundles.filter((_one, at) => at !== bundle.index)"
          >take out</ElButton
        >
      </p>
      <p>
        <ElButton link @click="terms.bundles = [...terms.bundles, { supplierId, lineIds: [], percent: '' }]"
          >lines that are cheaper together</ElButton
        >
      </p>
      <p class="bar">
        <ElButton type="primary" native-type="submit" :disabled="busy" data-test="keep-terms">Compute with it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.together {
  width: 240px;
}
</style>
