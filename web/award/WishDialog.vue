<script setup lang="ts">
import { ElButton, ElDialog, ElInputNumber, ElOption, ElRadio, ElRadioGroup, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import { WISH_KINDS } from '#core/award/wishes.ts'
import { type Plan, type PlanWish, wishText } from '#web/award/planText.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import NumberField from '#web/shared/NumberField.vue'

/** A wish put together from its parts: what, of whom or which lines, how much; whether it must be, or what it is worth. */
const props = defineProps<{ plan: Plan; wish: PlanWish }>()
const emit = defineEmits<{ close: []; keep: [wish: PlanWish] }>()
type Kind = PlanWish['what']['kind']
const { what } = props.wish
const kind = ref<Kind>(what.kind)
const form = reactive({
  must: props.wish.must,
  worth: props.wish.worth,
  worthIn: props.wish.worthIn,
  count: what.kind === 'mostSuppliers' ? what.count : 3,
  lineIds: 'lineIds' in what ? [...what.lineIds] : ([] as string[]),
  most: 'most' in what ? what.most : '',
  least: what.kind === 'share' ? what.least : '',
  in: what.kind === 'share' ? what.in : ('percent' as const),
  of: what.kind === 'share' ? what.whom.kind : ('suppliers' as const),
  supplierIds:
    what.kind === 'share' && what.whom.kind === 'suppliers'
      ? [...what.whom.supplierIds]
      : what.kind === 'without'
        ? [what.supplierId]
        : ([] as string[]),
  country: what.kind === 'share' && what.whom.kind === 'country' ? what.whom.country : '',
  score: what.kind === 'scoreAtLeast' ? what.score : what.kind === 'nobodyNew' ? what.unlessScore : '',
  days: what.kind === 'deliveredWithin' ? what.days : 30,
})
const LINES: readonly Kind[] = ['oneSupplier', 'keepIncumbent', 'shareLine', 'twoSuppliers']
const countries = computed(() => [...new Set(props.plan.suppliers.map(one => one.country))].filter(Boolean).sort())
const built = computed((): PlanWish['what'] | null => {
  const { lineIds, supplierIds } = form
  switch (kind.value) {
    case 'mostSuppliers':
      return { kind: 'mostSuppliers', count: form.count }
    case 'share': {
      if (form.least === '' && form.most === '') return null
      const limits = { kind: 'share' as const, in: form.in, least: form.least, most: form.most }
      if (form.of === 'country')
        return form.country === '' ? null : { ...limits, whom: { kind: 'country', country: form.country } }
      return supplierIds.length === 0 ? null : { ...limits, whom: { kind: 'suppliers', supplierIds } }
    }
    case 'shareLine':
      return lineIds.length === 0 || form.most === '' ? null : { kind: 'shareLine', lineIds, most: form.most }
    case 'scoreAtLeast':
      return form.score === '' ? null : { kind: 'scoreAtLeast', score: form.score }
    case 'deliveredWithin':
      return { kind: 'deliveredWithin', days: form.days }
    case 'nobodyNew':
      return { kind: 'nobodyNew', unlessScore: form.score }
    case 'without':
      return supplierIds.length === 0 ? null : { kind: 'without', supplierId: supplierIds[0]! }
    default:
      return lineIds.length === 0 ? null : { kind: kind.value, lineIds }
  }
})
const keep = (): void => {
  if (built.value)
    emit('keep', {
      id: props.wish.id,
      must: form.must,
      worth: form.must ? '' : form.worth,
      worthIn: form.worthIn,
      what: built.value,
    })
}
</script>

<template>
  <ElDialog :model-value="true" title="A wish" width="560" append-to-body @closed="emit('close')">
    <EntryForm :reasons="[]" :busy="false" @submit="keep">
      <FormField label="What"
        ><ElSelect v-model="kind" aria-label="What" data-test="wish-kind"
          ><ElOption v-for="one in WISH_KINDS" :key="one" :value="one" :label="laterLabel('wish', one)" /></ElSelect
      ></FormField>
      <FormField v-if="kind === 'mostSuppliers'" label="How many suppliers"
        ><ElInputNumber v-model="form.count" :min="1" :max="500" aria-label="How many suppliers"
      /></FormField>
      <template v-if="kind === 'share'"
        ><FormField label="Of"
          ><ElRadioGroup v-model="form.of"
            ><ElRadio value="suppliers">suppliers</ElRadio
            ><ElRadio value="country">all of a country</ElRadio></ElRadioGroup
          ></FormField
        ><FormField v-if="form.of === 'country'" label="Country"
          ><ElSelect v-model="form.country" aria-label="Country"
            ><ElOption v-for="one in countries" :key="one" :value="one" :label="one" /></ElSelect></FormField
        ><FormField label="Reckoned in"
          ><ElRadioGroup v-model="form.in"
            ><ElRadio value="percent">per cent</ElRadio
            ><ElRadio value="amount">{{ plan.currency }}</ElRadio></ElRadioGroup
          ></FormField
        ></template
      >
      <FormField v-if="(kind === 'share' && form.of === 'suppliers') || kind === 'without'" label="Whom"
        ><ElSelect
          v-model="form.supplierIds"
          multiple
          :multiple-limit="kind === 'without' ? 1 : 0"
          filterable
          aria-label="Whom"
          data-test="wish-suppliers"
          ><ElOption v-for="one in plan.suppliers" :key="one.id" :value="one.id" :label="one.name" /></ElSelect
      ></FormField>
      <FormField v-if="LINES.includes(kind)" label="Which lines"
        ><ElSelect
          v-model="form.lineIds"
          multiple
          filterable
          collapse-tags
          :max-collapse-tags="4"
          aria-label="Which lines"
          data-test="wish-lines"
          ><ElOption
            v-for="one in plan.lines"
            :key="one.id"
            :value="one.id"
            :label="`${one.position} ${one.description}`" /></ElSelect
        ><ElButton link @click="form.lineIds = plan.lines.map(one => one.id)">all of them</ElButton></FormField
      >
      <FormField v-if="kind === 'share'" label="At least"
        ><NumberField v-model="form.least" label="At least" width="120px"
      /></FormField>
      <FormField
        v-if="kind === 'share' || kind === 'shareLine'"
        :label="kind === 'shareLine' ? 'At most, per cent of a line' : 'At most'"
        ><NumberField v-model="form.most" label="At most" width="120px"
      /></FormField>
      <FormField
        v-if="kind === 'scoreAtLeast' || kind === 'nobodyNew'"
        :label="kind === 'nobodyNew' ? 'Unless it scores at least (empty: none)' : 'Score at least'"
        ><NumberField v-model="form.score" label="Score" width="120px"
      /></FormField>
      <FormField v-if="kind === 'deliveredWithin'" label="Days"
        ><ElInputNumber v-model="form.days" :min="0" :max="3650" aria-label="Days"
      /></FormField>
      <FormField label="How strongly"
        ><ElRadioGroup v-model="form.must" data-test="wish-must"
          ><ElRadio :value="true">it must be</ElRadio><ElRadio :value="false">it is wished</ElRadio></ElRadioGroup
        ></FormField
      >
      <FormField
        v-if="!form.must"
        label="Worth at most"
        help="Where keeping it costs more, it is dropped and said so. Empty: it is kept wherever it can be."
        ><span class="bar"
          ><NumberField v-model="form.worth" label="Worth at most" width="120px" /><ElSelect
            v-model="form.worthIn"
            aria-label="Worth in"
            class="in"
            ><ElOption value="amount" :label="plan.currency" /><ElOption
              value="percent"
              label="% of the cost" /></ElSelect></span
      ></FormField>
      <p v-if="built" class="quiet" data-test="wish-said">{{ wishText(plan, { what: built }) }}</p>
      <p class="bar">
        <ElButton type="primary" native-type="submit" :disabled="!built" data-test="keep-wish">Wish it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.in {
  width: 130px;
}
</style>
