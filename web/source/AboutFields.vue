<script setup lang="ts">
import { ElDatePicker, ElInput, ElOption, ElSelect } from 'element-plus'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ListCategories } from '#contract/source/onboarding.ts'
import { SIZES, type SupplierBody, TAX_STATUSES } from '#contract/source/record.ts'
import { TAX_CATEGORIES } from '#core/source/defaults.ts'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'

/** What is known of a supplier beside its places and people: what it sells, whose it is, how it is taxed. */
defineProps<{ choices: ResponseOf<typeof ListCategories> | undefined; isNew: boolean }>()
const supplier = defineModel<SupplierBody>({ required: true })
const account = defineModel<string>('account', { required: true })
</script>

<template>
  <section class="section">
    <h2>About it</h2>
    <div class="form-grid">
      <FormField label="Web address"><ElInput v-model="supplier.web" data-test="web" /></FormField>
      <FormField label="Also trades as (with commas)"
        ><ElInput
          :model-value="supplier.tradeNames.join(', ')"
          @change="
            supplier.tradeNames = String($event)
              .split(',')
              .map(one => one.trim())
              .filter(Boolean)
          "
      /></FormField>
      <FormField label="Sells"
        ><ElSelect
          v-model="supplier.categories"
          multiple
          filterable
          allow-create
          default-first-option
          data-test="categories"
          ><ElOption v-for="one in choices?.categories" :key="one.name" :value="one.name" :label="one.name" /></ElSelect
      ></FormField>
      <FormField label="Looked after by"
        ><ElSelect
          v-model="supplier.ownerId"
          filterable
          default-first-option
          clearable
          :value-on-clear="null"
          placeholder="nobody"
          ><ElOption v-for="one in choices?.people" :key="one.id" :value="one.id" :label="one.name" /></ElSelect
      ></FormField>
      <FormField label="Size"
        ><ElSelect v-model="supplier.size"
          ><ElOption v-for="one in SIZES" :key="one" :value="one" :label="laterLabel('size', one)" /></ElSelect
      ></FormField>
      <FormField label="Founded"
        ><ElInput
          :model-value="supplier.founded === null ? '' : String(supplier.founded)"
          maxlength="4"
          inputmode="numeric"
          @update:model-value="supplier.founded = /^\d{4}$/.test(String($event)) ? Number($event) : null"
      /></FormField>
      <FormField label="Our number there"><ElInput v-model="supplier.ourNumber" /></FormField>
      <FormField label="IBAN, if you know it" v-if="isNew" place="iban"
        ><ElInput v-model="account" data-test="find-iban"
      /></FormField>
    </div>
  </section>
  <section v-if="supplier.person" class="section">
    <h2>The person</h2>
    <p class="quiet">Read only by those who pay and those who keep suppliers; it does not stand in the history.</p>
    <div class="form-grid">
      <FormField label="Date of birth" place="person.birthDate"
        ><ElDatePicker
          :model-value="supplier.person.birthDate || undefined"
          value-format="YYYY-MM-DD"
          format="D MMM YYYY"
          @update:model-value="supplier.person!.birthDate = $event ?? ''" /></FormField
      ><FormField label="Tax status"
        ><ElSelect v-model="supplier.person.taxStatus"
          ><ElOption
            v-for="one in TAX_STATUSES"
            :key="one"
            :value="one"
            :label="laterLabel('tax status', one)" /></ElSelect></FormField
      ><FormField label="National number"><ElInput v-model="supplier.person.nationalId" /></FormField>
    </div>
  </section>
  <section class="section">
    <h2>Tax</h2>
    <div class="form-grid">
      <FormField label="Taxed in, two letters"
        ><ElInput
          v-model="supplier.tax.residence"
          maxlength="2"
          @blur="supplier.tax.residence = supplier.tax.residence.toUpperCase()" /></FormField
      ><FormField label="Tax number" place="tax.number"><ElInput v-model="supplier.tax.number" /></FormField
      ><FormField label="Usual category"
        ><ElSelect v-model="supplier.tax.category" clearable :value-on-clear="''"
          ><ElOption
            v-for="one in TAX_CATEGORIES"
            :key="one"
            :value="one"
            :label="laterLabel('default value', one)" /></ElSelect></FormField
      ><FormField label="Note"><ElInput v-model="supplier.tax.note" /></FormField>
    </div>
  </section>
</template>

<style scoped>
.section {
  margin-top: 10px;
}
</style>
