<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive } from 'vue'
import { CatalogueFacts, type ItemJson, type OfferJson } from '#contract/request/catalogue.ts'
import { SaveOffer } from '#contract/request/keeping.ts'
import { samePrices } from '#core/request/prices.ts'
import { INCOTERMS } from '#core/source/defaults.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import SupplierField from '#web/shared/SupplierField.vue'
import TierRows from '#web/request/TierRows.vue'
import CurrencyField from '#web/shared/CurrencyField.vue'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import UnitField from '#web/shared/UnitField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** Adds an offer of an item, changes one, or copies one to another number or supplier. */
const props = defineProps<{ item: ItemJson; offer?: OfferJson | undefined; copy?: boolean }>()
const emit = defineEmits<{ close: []; kept: [] }>()
const session = useSession()
const { busy, reasons, run } = useAction()
const { data: facts } = useRead(CatalogueFacts)
const changes = computed(() => props.offer !== undefined && !props.copy)
const form = reactive({
  supplierId: props.offer?.supplierId ?? '',
  supplierItem: props.copy ? '' : (props.offer?.supplierItem ?? ''),
  currency: props.offer?.currency ?? session.base,
  unit: props.offer?.unit ?? props.item.unit,
  priceBase: props.offer?.priceBase ?? '1',
  minimum: props.offer?.minimum ?? '1',
  multiple: props.offer?.multiple ?? '1',
  leadTimeDays: String(props.offer?.leadTimeDays ?? 5),
  validFrom: (changes.value && props.offer?.validFrom) || session.today,
  validTo: props.offer?.validTo ?? null,
  tiers: props.offer?.tiers ?? [{ from: '1', price: '' }],
  agreement: props.offer?.agreement ?? '',
  incoterm: props.offer?.ownIncoterm ?? '',
  incotermPlace: props.offer?.ownPlace ?? '',
  countries: [...(props.offer?.countries ?? [])],
  freight: props.offer?.freight ?? '',
  inStock: props.offer?.inStock ?? '',
  pricesFrom: session.today,
})
const tiers = computed(() => form.tiers.map((tier, index) => (index === 0 ? { ...tier, from: form.minimum } : tier)))
const priced = computed(() => tiers.value.every(tier => tier.price !== '' && tier.from !== ''))
const dearer = computed(
  () =>
    changes.value &&
    priced.value &&
    !samePrices(props.offer!, { priceBase: form.priceBase || '1', tiers: tiers.value }),
)
const units = computed(() => [props.item.unit, ...props.item.packs.map(pack => pack.unit)])
const countries = computed(() => [...new Set([...(facts.value?.countries ?? []), ...form.countries])].sort())

async function save(): Promise<void> {
  const kept = await run(() =>
    api(SaveOffer, {
      params: { id: props.item.id },
      body: {
        ...form,
        currency: form.currency as 'EUR',
        tiers: tiers.value,
        leadTimeDays: Number(form.leadTimeDays),
        incoterm: form.incoterm || null,
        incotermPlace: form.incoterm ? form.incotermPlace : '',
        freight: form.freight || null,
        inStock: form.inStock || null,
        offerId: changes.value ? props.offer!.id : null,
        version: changes.value ? props.offer!.version : 0,
      },
    }),
  )
  if (kept) emit('kept')
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="changes ? `Offer of ${offer!.supplier}` : `A new offer of ${item.name}`"
    width="640px"
    @close="emit('close')"
  >
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="save">
      <FormField v-if="!changes" label="Supplier" place="supplierId" whole
        ><SupplierField v-model="form.supplierId" :name="offer?.supplier ?? ''" mark="offer-supplier"
      /></FormField>
      <FormField label="Supplier’s number" place="supplierItem"
        ><ElInput v-model="form.supplierItem" maxlength="100" data-test="offer-number"
      /></FormField>
      <FormField label="Sold in" place="unit" help="Packs of the item are added at the item."
        ><UnitField v-model="form.unit" :only="units" :disabled="changes"
      /></FormField>
      <FormField label="Currency" place="currency"
        ><CurrencyField v-model="form.currency" :disabled="changes"
      /></FormField>
      <FormField label="Prices are for how many" place="priceBase"
        ><NumberField v-model="form.priceBase" label="Prices are for how many"
      /></FormField>
      <FormField label="Smallest quantity" place="minimum"
        ><NumberField v-model="form.minimum" label="Smallest quantity"
      /></FormField>
      <FormField label="In steps of" place="multiple"
        ><NumberField v-model="form.multiple" label="In steps of"
      /></FormField>
      <FormField label="Prices" place="tiers" whole
        ><TierRows v-model="form.tiers" :minimum="form.minimum" :currency="form.currency"
      /></FormField>
      <FormField
        v-if="dearer"
        label="These prices hold from"
        place="from"
        whole
        help="Until then the present ones hold. What was asked for before stays known."
        ><DayField
          :model-value="form.pricesFrom"
          label="These prices hold from"
          mark="prices-from"
          @update:model-value="form.pricesFrom = $event ?? session.today"
      /></FormField>
      <FormField label="Working days until it is there" place="leadTimeDays"
        ><NumberField v-model="form.leadTimeDays" label="Working days until it is there"
      /></FormField>
      <FormField label="Agreement" place="agreement"><ElInput v-model="form.agreement" maxlength="100" /></FormField>
      <FormField label="First day" place="validFrom"
        ><DayField
          :model-value="form.validFrom"
          label="First day"
          @update:model-value="form.validFrom = $event ?? session.today"
      /></FormField>
      <FormField label="Last day" place="validTo"
        ><DayField v-model="form.validTo" label="Last day" empty="no end" mark="offer-until"
      /></FormField>
      <FormField label="Incoterm" place="incoterm" help="Empty: the supplier’s holds."
        ><ElSelect v-model="form.incoterm" clearable :value-on-clear="''"
          ><ElOption v-for="one in INCOTERMS" :key="one" :value="one" :label="one" /></ElSelect
      ></FormField>
      <FormField v-if="form.incoterm" label="Place" place="incotermPlace"
        ><ElInput v-model="form.incotermPlace" maxlength="100"
      /></FormField>
      <FormField label="Carriage of one delivery" place="freight" :help="`In ${form.currency}, beside the price.`"
        ><NumberField v-model="form.freight" label="Carriage of one delivery"
      /></FormField>
      <FormField label="Lies there" place="inStock" help="What the supplier has in stock; empty: not known."
        ><NumberField v-model="form.inStock" label="Lies there"
      /></FormField>
      <FormField label="Delivered to" place="countries" help="Countries; none: everywhere."
        ><ElSelect v-model="form.countries" multiple filterable allow-create default-first-option
          ><ElOption v-for="one in countries" :key="one" :value="one" :label="one" /></ElSelect
      ></FormField>
      <template #acts
        ><ElButton
          type="primary"
          native-type="submit"
          :disabled="busy || !form.supplierId || !priced"
          data-test="save-offer"
          >Keep it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>
