<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import { ImportSuppliers, Suppliers } from '#contract/source/endpoints.ts'
import StageFrame from '#web/frame/StageFrame.vue'
import { useSession } from '#web/people/session.ts'
import ImportDialog from '#web/shared/ImportDialog.vue'

const session = useSession()
const importing = ref(false)
</script>

<template>
  <StageFrame stage="source" name="suppliers" :list="Suppliers">
    <template v-if="session.may('supplier.write')" #acts><p class="bar list-acts"><RouterLink to="/source/new" data-test="new-supplier"><ElButton size="small">New supplier</ElButton></RouterLink><button type="button" class="plain" data-test="import" @click="importing = true">Import a file</button></p></template>
    <RouterView />
  </StageFrame>
  <ImportDialog v-if="importing" title="Import suppliers" what="a CSV file with the columns name, country and, if you like, vat, currency, terms_days, street, postal_code, city, contact_name, email, iban, bic, categories" :endpoint="ImportSuppliers" @close="importing = false" />
</template>

<style>
.list-acts { margin-top: 8px; }
</style>
