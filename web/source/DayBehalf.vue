<script setup lang="ts">
import { ElButton, ElDialog, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import { useRoute } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { BidBehalf, type ReadDay } from '#contract/source/day.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, quantityText, unit } from '#web/shared/words.ts'

/** A bid for a supplier who asked for it; only for those whose consent is on record. */
type Day = ResponseOf<typeof ReadDay>
const props = defineProps<{ eventId: string; day: Day; lot: Day['lots'][number] }>()
const emit = defineEmits<{ close: []; done: [] }>()
const route = useRoute()
const { busy, reasons, run } = useAction()
const able = computed(() => props.day.suppliers.filter(one => one.consent && !one.suspended))
const invitedId = ref(typeof route.query.behalf === 'string' ? route.query.behalf : (able.value[0]?.invitedId ?? ''))
const prices = reactive<Record<string, string>>(Object.fromEntries(props.lot.lines.map(line => [line.id, ''])))
let bidId = crypto.randomUUID()
async function go(): Promise<void> {
  const params = { id: props.eventId, invitedId: invitedId.value }
  const taken = await run(() => api(BidBehalf, { params, body: { bidId, lotId: props.lot.id, prices: { ...prices } } }))
  if (!taken) return
  bidId = crypto.randomUUID()
  emit('done')
  emit('close')
}
const best = computed(() => props.lot.standing[0]?.total ?? '')
</script>

<template>
  <ElDialog :model-value="true" title="Enter a bid on behalf" width="480" append-to-body @close="emit('close')">
    <p v-if="!able.length" class="empty">
      Nobody’s consent is on record. Record it on the
      <RouterLink :to="`/source/events/${eventId}`">Sheet</RouterLink> first: who asked, when and how.
    </p>
    <EntryForm v-else :reasons="reasons" :busy="busy" @submit="go">
      <p>
        It is marked in the standing, in the log and to the supplier.
        {{ best ? `The best is ${amountText(best)} ${day.currency}.` : '' }}
      </p>
      <FormField label="For"
        ><ElSelect v-model="invitedId" aria-label="For"
          ><ElOption v-for="one in able" :key="one.invitedId" :value="one.invitedId" :label="one.name" /></ElSelect
      ></FormField>
      <FormField
        v-for="line in lot.lines"
        :key="line.id"
        :label="`${line.description}, for one of ${quantityText(line.quantity)} ${unit(line.unit)}`"
        :place="`lines.${line.id}`"
        ><NumberField v-model="prices[line.id]!" :label="line.description" width="140px"
      /></FormField>
      <p class="bar">
        <ElButton type="primary" native-type="submit" :disabled="busy" data-test="behalf-bid">Enter the bid</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>
