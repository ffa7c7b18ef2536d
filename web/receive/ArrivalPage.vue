<script setup lang="ts">
import '#contract/messages/receiving.ts'
import { onMounted, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { AnswerArrivalLink, ReadArrivalLink } from '#contract/receive/arrivals.ts'
import { api } from '#web/api.ts'
import DoorFrame from '#web/frame/DoorFrame.vue'
import ArrivalAnswer from '#web/receive/ArrivalAnswer.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'

/** Where the link of the mail leads that says that goods are in. Looking says nothing; the link works once. */
const route = useRoute()
const token = String(route.params.token)
const { busy, reasons, run } = useAction()
const link = shallowRef<ResponseOf<typeof ReadArrivalLink>>()
const done = ref(false)
onMounted(async () => {
  link.value = await run(() => api(ReadArrivalLink, { params: { token } }))
})
async function go(body: BodyOf<typeof AnswerArrivalLink>): Promise<void> {
  done.value = (await run(() => api(AnswerArrivalLink, { params: { token }, body }))) !== undefined
}
</script>

<template>
  <DoorFrame :title="link?.house || 'Ivory Order'">
    <h1 v-if="done" data-test="arrival-said">Thank you. It is kept.</h1>
    <template v-else-if="link && link.reasons.length === 0"
      ><p class="quiet">Order {{ link.number }}, {{ link.receipt }}</p>
      <h1>{{ link.title }}</h1>
      <p>It is in, at {{ link.place }}. Do you have it?</p>
      <ArrivalAnswer :lines="link.lines" :busy="busy" :reasons="reasons" @go="go" /></template
    ><ReasonList v-else :reasons="link?.reasons ?? reasons" />
  </DoorFrame>
</template>
