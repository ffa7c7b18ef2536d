<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput } from 'element-plus'
import { LOCATION_ROLES, type SupplierBody } from '#contract/source/record.ts'
import type { SupplierDefaults } from '#core/source/defaults.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import DefaultsFields from '#web/source/DefaultsFields.vue'
import { toggled } from '#web/source/toggled.ts'
import FormField from '#web/shared/FormField.vue'

/** Where a supplier is, what each place is for, and what it says otherwise than the supplier. */
defineProps<{ house: SupplierDefaults; defaults: SupplierDefaults }>()
const locations = defineModel<SupplierBody['locations']>({ required: true })
const EMPTY = { name: '', street: '', postalCode: '', city: '', country: '', phone: '' }
</script>

<template>
  <section class="section">
    <h2>Locations</h2>
    <div v-for="(one, index) in locations" :key="index" class="block">
      <div class="form-grid">
        <FormField label="Name"><ElInput v-model="one.name" /></FormField
        ><FormField label="Street"><ElInput v-model="one.street" data-test="street" /></FormField
        ><FormField label="Postcode"><ElInput v-model="one.postalCode" data-test="postcode" /></FormField
        ><FormField label="Place"><ElInput v-model="one.city" data-test="city" /></FormField
        ><FormField label="Country, two letters"
          ><ElInput
            v-model="one.country"
            maxlength="2"
            data-test="country"
            @blur="one.country = one.country.toUpperCase()" /></FormField
        ><FormField label="Telephone"><ElInput v-model="one.phone" /></FormField>
      </div>
      <p class="bar">
        <ElCheckbox
          v-for="role in LOCATION_ROLES"
          :key="role"
          :model-value="one.roles.includes(role)"
          :label="laterLabel('location role', role)"
          @change="one.roles = toggled(one.roles, role)"
        /><ElButton link @click="locations.splice(index, 1)">take out</ElButton>
      </p>
      <details :open="Object.keys(one.defaults).length > 0">
        <summary>Defaults of this location</summary>
        <DefaultsFields
          v-model="one.defaults"
          :above="[
            ['house', house],
            ['supplier', defaults],
          ]"
          level="location"
          :place="`locations.${index}.defaults`"
        />
      </details>
    </div>
    <ElButton link @click="locations.push({ ...EMPTY, roles: [], defaults: {} })"> Add a location </ElButton>
  </section>
</template>

<style scoped>
.block {
  border-bottom: 1px solid var(--rule-light);
  padding-bottom: 8px;
  margin-bottom: 10px;
}
.section {
  margin-top: 10px;
}
summary {
  cursor: pointer;
  color: var(--tide);
  font-size: 12.5px;
  margin: 4px 0;
}
</style>
