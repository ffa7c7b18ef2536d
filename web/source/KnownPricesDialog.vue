<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput } from 'element-plus'
import { ref } from 'vue'
import { CompareKnown } from '#contract/order/knownPrices.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadEvent } from '#contract/source/events.ts'
import { api, upload } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FileField from '#web/shared/FileField.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'

/** Compares what is known without asking: offers of the catalogue, a list of prices, or both. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadEvent> }>()
const emit = defineEmits<{ close: []; done: [] }>()
const { busy, reasons, run } = useAction()
const pasted = ref('')
const file = ref<{ id: string; name: string } | null>(null)
const named = props.sheet.body.lines.filter(line => line.itemId !== null).length
const catalogue = ref(named > 0)
async function take([chosen]: File[]): Promise<void> {
  const kept = await run(() => upload(chosen!))
  if (kept) file.value = { id: kept.id, name: chosen!.name }
}
async function go(): Promise<void> {
  const { version, id } = props.sheet
  const body = { version, catalogue: catalogue.value, fileId: file.value?.id ?? null, pasted: pasted.value }
  if (await run(() => api(CompareKnown, { params: { id }, body }))) emit('done')
}
</script>

<template>
  <ElDialog :model-value="true" title="Compare what is known" width="560" append-to-body @close="emit('close')">
    <EntryForm :reasons="reasons" :busy="busy" @submit="go">
      <p>
        Nobody is asked and nobody is written to. Comparison, award plan, approval and orders follow as after answers;
        <i>Take up again</i> makes a draft of it.
      </p>
      <ElCheckbox
        v-model="catalogue"
        :label="`offers of the catalogue (${named} of ${sheet.body.lines.length} lines name an item)`"
        :disabled="named === 0"
        data-test="known-catalogue"
      />
      <FormField
        label="Prices, pasted from a sheet"
        help="Columns: supplier, line and price; where there are any, currency, per, from, at most, at least, multiple, days. Further rows of a supplier and line, each with a quantity under from, are its tiers."
        whole
        ><ElInput v-model="pasted" type="textarea" :rows="4" aria-label="Prices" data-test="known-pasted"
      /></FormField>
      <p class="bar">
        <FileField
          label="Choose a file"
          accept=".xlsx,.csv,.tsv,.txt"
          :busy="busy"
          mark="known-file"
          @choose="take"
        /><span v-if="file">{{ file.name }}</span>
      </p>
      <p class="bar">
        <ElButton type="primary" native-type="submit" :disabled="busy" data-test="known-go">Compare</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>
