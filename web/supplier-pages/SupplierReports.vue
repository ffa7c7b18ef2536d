<script setup lang="ts">
import '#contract/messages/receiving.ts'
import type { BodyOf } from '#contract/endpoint.ts'
import { OwnReports, SaveOwnReport } from '#contract/receive/reports.ts'
import { api } from '#web/api.ts'
import WorkReports from '#web/receive/WorkReports.vue'
import { useRead } from '#web/shared/useRead.ts'

/** Work of an order as its supplier reports it. */
const props = defineProps<{ orderId: string }>()
const { data, reload } = useRead(OwnReports, () => ({ params: { id: props.orderId } }))
const save = (body: BodyOf<typeof SaveOwnReport>) => api(SaveOwnReport, { params: { id: props.orderId }, body })
</script>

<template>
  <WorkReports v-if="data?.lines.length" :known="data" :save="save" supplier @changed="reload" />
</template>
