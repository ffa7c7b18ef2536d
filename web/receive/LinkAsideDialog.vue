<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElRadio, ElRadioGroup } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { LookUp } from '#contract/receive/handheld.ts'
import { LinkSetAside, type ReadSetAside } from '#contract/receive/setAside.ts'
import { api } from '#web/api.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { quantityText, unit } from '#web/shared/words.ts'

/** Finds the line of an order to which something belongs that came without one, and counts it there. */
const props = defineProps<{ row: ResponseOf<typeof ReadSetAside>['rows'][number] }>()
const emit = defineEmits<{ close: []; done: [] }>()
const { busy, reasons, run } = useAction()
const code = ref('')
const found = shallowRef<ResponseOf<typeof LookUp>>()
const chosen = ref('')
const why = ref('')
const lines = computed(() => (found.value?.found ?? []).filter(one => one.lineId !== null))
async function look(): Promise<void> {
  found.value = await run(() => api(LookUp, { query: { q: code.value.trim() } }))
  chosen.value = lines.value.length === 1 ? lines.value[0]!.lineId! : ''
}
async function link(): Promise<void> {
  const line = lines.value.find(one => one.lineId === chosen.value)!
  const body = { version: props.row.version, orderId: line.orderId, lineId: line.lineId!, checkReason: why.value }
  if (await run(() => api(LinkSetAside, { params: { id: props.row.id }, body }))) emit('done')
}
</script>

<template>
  <ElDialog :model-value="true" title="It belongs to an order" width="560px" @close="emit('close')">
    <p>{{ quantityText(row.quantity) }} {{ unit(row.unit) }} {{ row.description }}</p>
    <form @submit.prevent="look">
      <ElInput
        v-model="code"
        aria-label="Order, item or any number"
        placeholder="Order, item or any number that stands on it"
        data-test="aside-code"
        ><template #append
          ><ElButton native-type="submit" :disabled="busy || !code.trim()">Find</ElButton></template
        ></ElInput
      >
    </form>
    <p v-if="found && lines.length === 0" role="status">No order that is open is found by it.</p>
    <ElRadioGroup v-model="chosen" class="lines"
      ><ElRadio v-for="one in lines" :key="one.lineId!" :value="one.lineId!" data-test="aside-line"
        >{{ one.number }}, {{ one.supplier }}: {{ one.description }}, {{ quantityText(one.open) }}
        {{ unit(one.unit) }} open</ElRadio
      ></ElRadioGroup
    >
    <ElInput
      v-if="reasons.length"
      v-model="why"
      type="textarea"
      :rows="2"
      placeholder="Why it is kept, where more came"
      aria-label="Why it is kept"
    />
    <ReasonList v-if="reasons.length" :reasons="reasons" />
    <template #footer
      ><ElButton type="primary" :disabled="busy || !chosen" data-test="link-go" @click="link">Count it there</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.lines {
  display: block;
  margin: 12px 0;
}
.lines :deep(.el-radio) {
  display: flex;
  height: auto;
  min-height: 32px;
  white-space: normal;
}
</style>
