<script setup lang="ts">
import { ElButton, ElDialog, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, ref } from 'vue'
import { AssetLabels } from '#contract/receive/assets.ts'
import { pathOf } from '#web/api.ts'
import FormField from '#web/shared/FormField.vue'

/** Prints labels of pieces: which symbol, on sheets or on a roll. */
const props = defineProps<{ ids: readonly string[] }>()
const emit = defineEmits<{ close: [] }>()
const symbol = ref<'code128' | 'qrcode' | 'datamatrix'>('datamatrix')
const layout = ref<'sheet' | 'roll'>('sheet')
const MOST = 200
const address = computed(() =>
  pathOf(AssetLabels, {}, { ids: props.ids.slice(0, MOST).join(','), symbol: symbol.value, layout: layout.value }),
)
</script>

<template>
  <ElDialog :model-value="true" :title="`Labels of ${ids.length} pieces`" width="460px" @close="emit('close')">
    <FormField label="Symbol"
      ><ElRadioGroup v-model="symbol"
        ><ElRadioButton value="datamatrix">Data Matrix</ElRadioButton><ElRadioButton value="qrcode">QR</ElRadioButton
        ><ElRadioButton value="code128">Code 128</ElRadioButton></ElRadioGroup
      ></FormField
    >
    <FormField label="Printed on"
      ><ElRadioGroup v-model="layout"
        ><ElRadioButton value="sheet">sheets, 24 of 70 × 37 mm</ElRadioButton
        ><ElRadioButton value="roll">a roll, 50 × 25 mm</ElRadioButton></ElRadioGroup
      ></FormField
    >
    <p v-if="ids.length > MOST" class="tone-attention">The first {{ MOST }} are printed; choose fewer for the rest.</p>
    <template #footer
      ><ElButton type="primary" tag="a" :href="address" target="_blank" data-test="print-labels">Make the PDF</ElButton
      ><ElButton @click="emit('close')">Close</ElButton></template
    >
  </ElDialog>
</template>
