<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import type { ReasonJson } from '#contract/fields.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { t } from '#web/shared/language.ts'
import NumberField from '#web/shared/NumberField.vue'
import { type InvoiceEntry, TAX_CATEGORIES, taxName } from '#web/supplier-pages/invoiceEntry.ts'

/** What an invoice says beside its lines. */
defineProps<{ busy: boolean; reasons: readonly ReasonJson[] }>()
const emit = defineEmits<{ send: []; leave: []; keep: []; ready: [] }>()
const invoice = defineModel<InvoiceEntry>({ required: true })
</script>

<template>
  <EntryForm class="section" :reasons="reasons" :busy="busy" columns @submit="emit('send')">
    <FormField :label="t('Your invoice number')" place="number"
      ><ElInput v-model="invoice.number" data-test="invoice-number"
    /></FormField>
    <FormField :label="t('Dated')" place="issueDate"
      ><DayField v-model="invoice.issueDate" :label="t('Dated')"
    /></FormField>
    <FormField :label="t('Freight')" place="freight"
      ><NumberField v-model="invoice.freight" :label="t('Freight')"
    /></FormField>
    <FormField :label="t('VAT')" place="taxCategory"
      ><ElSelect v-model="invoice.taxCategory" data-test="tax"
        ><ElOption
          v-for="code in TAX_CATEGORIES"
          :key="code"
          :value="code"
          :label="`${taxName(code)} (${code})`" /></ElSelect
    ></FormField>
    <FormField v-if="invoice.taxCategory === 'S'" :label="t('Rate, %')" place="taxRate"
      ><NumberField v-model="invoice.taxRate" :label="t('Rate, %')"
    /></FormField>
    <template #acts
      ><ElButton
        type="primary"
        native-type="submit"
        :disabled="busy || !invoice.number.trim()"
        data-test="send-invoice"
        >{{ t('Send the invoice') }}</ElButton
      ><ElButton :disabled="busy" data-test="keep-invoice" @click="emit('keep')">{{ t('Keep it for later') }}</ElButton
      ><ElButton data-test="bill-ready" @click="emit('ready')">{{ t('Only what waits for nothing') }}</ElButton
      ><ElButton @click="emit('leave')">{{ t('Leave it') }}</ElButton></template
    >
  </EntryForm>
</template>
