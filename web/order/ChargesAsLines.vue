<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ChargeAsLine, type ReadOrder } from '#contract/order/endpoints.ts'
import { CHARGE_KINDS } from '#core/order/charges.ts'
import { api } from '#web/api.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label } from '#web/shared/words.ts'

/** Charges of a draft that can have a line of their own: then they are ordered, proven by nobody and billed by themselves. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadOrder> }>()
const emit = defineEmits<{ done: [] }>()
const { busy, reasons, run } = useAction()
async function go(at: number): Promise<void> {
  const { id, version } = props.sheet
  if (await run(() => api(ChargeAsLine, { params: { id }, body: { version, at } }))) emit('done')
}
</script>

<template>
  <p class="bar">
    <template v-for="(one, at) in sheet.charges" :key="at"
      ><ElButton
        v-if="CHARGE_KINDS[one.kind].adds"
        link
        :disabled="busy"
        :data-test="`charge-line-${at}`"
        @click="go(at)"
        >{{ one.words || label('charge', one.kind) }} as a line of its own</ElButton
      ></template
    >
  </p>
  <ReasonList :reasons="reasons" />
</template>
