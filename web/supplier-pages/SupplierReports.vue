<script setup lang="ts">
import '#contract/messages/receiving.ts'
import type { BodyOf } from '#contract/endpoint.ts'
import { OwnOrderFile, UploadOrderFile } from '#contract/receive/despatch.ts'
import { OwnReports, SaveOwnReport } from '#contract/receive/reports.ts'
import { api, pathOf, upload } from '#web/api.ts'
import WorkReports from '#web/receive/WorkReports.vue'
import { useRead } from '#web/shared/useRead.ts'

/** Work of an order as its supplier reports it. */
const props = defineProps<{ orderId: string }>()
const { data, reload } = useRead(OwnReports, () => ({ params: { id: props.orderId } }))
const save = (body: BodyOf<typeof SaveOwnReport>) => api(SaveOwnReport, { params: { id: props.orderId }, body })
const send = (file: File) => upload(file, UploadOrderFile.path)
const fileAt = (fileId: string): string => pathOf(OwnOrderFile, { id: props.orderId, fileId })
</script>

<template>
  <WorkReports
    v-if="data?.lines.length"
    :known="data"
    :save="save"
    :send="send"
    :file-at="fileAt"
    supplier
    @changed="reload"
  />
</template>
