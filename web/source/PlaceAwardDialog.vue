<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElOption, ElRadio, ElRadioGroup, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { PlaceAward } from '#contract/order/awarded.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import type { ReadEvent } from '#contract/source/events.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** What follows from an award, in one step. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadEvent> }>()
const emit = defineEmits<{ close: []; done: [] }>()
const { busy, reasons, run } = useAction()
const { data: choices } = useRead(ReadChoices)
const how = ref<'orders' | 'requests'>('orders')
const offers = ref(true)
const letters = ref(true)
const accounts = ref<Record<string, string>>({})
const awarded = computed(() => new Set(props.sheet.award?.shares.map(one => one.lineId)))
/** Lines that no request stands behind and that have no account yet. */
const open = computed(() =>
  props.sheet.body.lines.filter(
    (line, index) => awarded.value.has(line.id) && props.sheet.lineFacts[index]!.account === null,
  ),
)
const suppliers = computed(() => new Set(props.sheet.award?.shares.map(one => one.supplierId)).size)
async function go(): Promise<void> {
  const given = Object.fromEntries(Object.entries(accounts.value).filter(([, account]) => account))
  const body = {
    version: props.sheet.version,
    how: how.value,
    accounts: given,
    offers: offers.value,
    letters: letters.value,
  }
  if (await run(() => api(PlaceAward, { params: { id: props.sheet.id }, body }))) emit('done')
}
</script>

<template>
  <ElDialog :model-value="true" title="Place the award" width="560" append-to-body @close="emit('close')">
    <EntryForm :reasons="reasons" :busy="busy" @submit="go">
      <ElRadioGroup v-model="how" class="ways"
        ><ElRadio value="orders" data-test="place-orders"
          >{{ suppliers === 1 ? 'A draft order' : `${suppliers} draft orders` }}, with prices, texts and
          accounts</ElRadio
        ><ElRadio value="requests" data-test="place-requests"
          >Back to the requests: the lines wait to be bought with this supplier and price</ElRadio
        ></ElRadioGroup
      >
      <template v-if="how === 'orders'"
        ><FormField
          v-for="line in open"
          :key="line.id"
          :label="`Account for ${line.description}`"
          :place="`accounts.${line.id}`"
          ><ElSelect v-model="accounts[line.id]" filterable :aria-label="`Account for ${line.description}`"
            ><ElOption
              v-for="one in choices?.accounts"
              :key="one.id"
              :value="one.id"
              :label="one.label" /></ElSelect></FormField
      ></template>
      <p><ElCheckbox v-model="offers" label="Prices become offers of the catalogue" /></p>
      <p><ElCheckbox v-model="letters" label="Letters to those who get something, and to the others" /></p>
      <p class="bar">
        <ElButton type="primary" native-type="submit" :disabled="busy" data-test="place-award">Place the award</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.ways {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 4px;
  margin-bottom: 10px;
}
</style>
