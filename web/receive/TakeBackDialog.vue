<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import type { ReadDelivery } from '#contract/receive/endpoints.ts'
import { leftOf } from '#web/receive/receiptWords.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import { quantityText, unit } from '#web/shared/words.ts'

/** Takes counts out of a receipt, wholly or in part, with the reason. */
const props = defineProps<{
  receipt: ResponseOf<typeof ReadDelivery>['receipts'][number]
  busy: boolean
  reasons: readonly ReasonJson[]
}>()
const emit = defineEmits<{
  close: []
  go: [{ reason: string; parts: { partId: string; quantity: string; pieces: string[] }[] }]
}>()
const standing = computed(() => props.receipt.parts.filter(part => leftOf(part) !== '0'))
const out = reactive<Record<string, string>>(Object.fromEntries(standing.value.map(part => [part.id, leftOf(part)])))
/** Each piece is an asset: it is taken back by its name. */
const pieces = reactive<Record<string, string[]>>(
  Object.fromEntries(standing.value.map(part => [part.id, part.pieces.map(piece => piece.id)])),
)
const reason = ref('')
const parts = computed(() =>
  standing.value
    .map(part => {
      const chosen = part.becomes === 'asset' ? (pieces[part.id] ?? []) : []
      return {
        partId: part.id,
        quantity: part.becomes === 'asset' ? String(chosen.length) : (out[part.id] ?? ''),
        pieces: chosen,
      }
    })
    .filter(one => Number(one.quantity) > 0),
)
</script>

<template>
  <ElDialog :model-value="true" :title="`Take back of ${receipt.number}`" width="620px" @close="emit('close')">
    <p class="what">
      The counts are taken out again by counter-entries; the receipt stays and says why. A bill that they proved is
      matched anew.
    </p>
    <EntryForm :reasons="reasons" :busy="busy" @submit="emit('go', { reason, parts })">
      <LineTable
        :rows="standing"
        :columns="lineColumns({ what: 'Counted', '#left': 'Stands', '#out': 'Take out' })"
        label="Counts"
        :key-of="part => part.id"
        ><template #what="{ row: part }"
          >line {{ part.position
          }}<small>{{
            [part.batch, part.bin, part.condition === 'damaged' ? 'damaged' : ''].filter(Boolean).join(', ')
          }}</small></template
        >
        <template #left="{ row: part }">{{ quantityText(leftOf(part)) }} {{ unit(part.unit) }}</template>
        <template #out="{ row: part }"
          ><ElSelect
            v-if="part.becomes === 'asset'"
            v-model="pieces[part.id]"
            multiple
            filterable
            collapse-tags
            placeholder="which pieces"
            :aria-label="`Pieces of line ${part.position}`"
            :data-test="`out-pieces-${part.position}`"
            ><ElOption v-for="piece in part.pieces" :key="piece.id" :value="piece.id" :label="piece.label" /></ElSelect
          ><NumberField
            v-else
            :model-value="out[part.id] ?? ''"
            :label="`Take out of line ${part.position}`"
            width="110px"
            :data-test="`out-${part.position}`"
            @update:model-value="out[part.id] = $event" /></template
      ></LineTable>
      <FormField label="Reason" place="reason"
        ><ElInput v-model="reason" type="textarea" :rows="2" data-test="reason" maxlength="4000"
      /></FormField>
      <template #acts
        ><ElButton
          type="primary"
          native-type="submit"
          :disabled="busy || parts.length === 0 || reason.trim().length < 3"
          data-test="confirm"
          >Take it back</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.what {
  margin-bottom: 10px;
}
</style>
