<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { type ReadSupplier, SaveCertificate } from '#contract/source/endpoints.ts'
import { api, upload } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FileField from '#web/shared/FileField.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'

/** A certificate of a supplier: a first one, or the one that takes another's place. */
const props = defineProps<{
  supplierId: string
  sheet: ResponseOf<typeof ReadSupplier>
  kind: string
  category: string
  replaces: string | null
}>()
const emit = defineEmits<{ close: []; kept: [] }>()
const session = useSession()
const { busy, reasons, run } = useAction()
const kinds = computed(() => [...new Set(props.sheet.certificateRules.map(rule => rule.kind))])
const file = shallowRef<File>()
const form = reactive({
  kind: props.kind,
  category: props.category || (props.sheet.supplier.categories[0] ?? ''),
  issuer: '',
  number: '',
  validFrom: session.today as string | null,
  validTo: null as string | null,
})
async function save(): Promise<void> {
  const done = await run(async () => {
    const fileId = file.value ? (await upload(file.value)).id : null
    const body = { ...form, validFrom: form.validFrom!, fileId, replaces: props.replaces }
    return api(SaveCertificate, { params: { id: props.supplierId }, body })
  })
  if (done) emit('kept')
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="replaces ? 'The new certificate' : 'A certificate'"
    width="560px"
    @close="emit('close')"
  >
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="save">
      <FormField label="Kind" place="kind"
        ><ElSelect v-model="form.kind" filterable allow-create default-first-option data-test="certificate-kind"
          ><ElOption v-for="one in kinds" :key="one" :value="one" :label="one" /></ElSelect
      ></FormField>
      <FormField label="For" place="category"
        ><ElSelect v-model="form.category"
          ><ElOption value="" label="everything" /><ElOption
            v-for="one in sheet.supplier.categories"
            :key="one"
            :value="one"
            :label="one" /></ElSelect
      ></FormField>
      <FormField label="Issued by" place="issuer"
        ><ElInput v-model="form.issuer" data-test="certificate-issuer"
      /></FormField>
      <FormField label="Number" place="number"
        ><ElInput v-model="form.number" data-test="certificate-number"
      /></FormField>
      <FormField label="Holds from" place="validFrom"
        ><DayField v-model="form.validFrom" label="Holds from"
      /></FormField>
      <FormField label="Last day" place="validTo"
        ><DayField v-model="form.validTo" label="Last day" empty="no end" mark="certificate-until"
      /></FormField>
      <FormField label="File" place="fileId" whole
        ><FileField
          :label="file ? `Another file than ${file.name}` : 'Choose a file'"
          mark="certificate-file"
          @choose="file = $event[0]"
      /></FormField>
      <template #acts
        ><ElButton
          type="primary"
          native-type="submit"
          :disabled="busy || !form.kind || !form.issuer || !form.number || !form.validFrom"
          data-test="save-certificate"
          >Keep it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>
