<script setup lang="ts">
import { useRouter } from 'vue-router'
import { TakeExchange } from '#contract/order/exchange.ts'
import { api, upload } from '#web/api.ts'
import FileField from '#web/shared/FileField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'

/** Files of another installation, which lead to a page of their own: what names mean here is said there. */
const emit = defineEmits<{ taken: [] }>()
const router = useRouter()
const { busy, reasons, run } = useAction()

async function take(files: readonly File[]): Promise<void> {
  const taken = await run(async () => {
    const fileIds = []
    for (const file of files) fileIds.push((await upload(file)).id)
    return await api(TakeExchange, { body: { fileIds } })
  })
  if (!taken) return
  await router.push(`/order/exchanges/${taken.id}`)
  emit('taken')
}
</script>

<template>
  <p>Or orders of another installation, as JSON or as UBL Orders: what its names mean here is asked once.</p>
  <p class="bar">
    <FileField
      label="Choose JSON or UBL"
      accept=".json,.xml,application/json,text/xml"
      multiple
      mark="take-exchange"
      :busy="busy"
      @choose="take"
    />
  </p>
  <ReasonList :reasons="reasons" />
</template>
