<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref, watch } from 'vue'
import type { BodyOf } from '#contract/endpoint.ts'
import { AnswerArrival, type AnswerArrivalLink, ReadArrivals, SettleArrival } from '#contract/receive/arrivals.ts'
import { api } from '#web/api.ts'
import ArrivalAnswer from '#web/receive/ArrivalAnswer.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { day, label } from '#web/shared/words.ts'

/** Whoever asked for the goods: whether they have them, and what was wrong. */
const props = defineProps<{ orderId: string; version: number }>()
const emit = defineEmits<{ changed: [] }>()
const { data, reload } = useRead(ReadArrivals, () => ({ params: { id: props.orderId } }))
watch(
  () => props.version,
  () => void reload(),
)
const { busy, reasons, run, clear } = useAction()
const arrivals = computed(() => data.value?.arrivals ?? [])
const settles = ref<(typeof arrivals.value)[number]>()
async function go(one: (typeof arrivals.value)[number], body: BodyOf<typeof AnswerArrivalLink>): Promise<void> {
  if (await run(() => api(AnswerArrival, { params: { id: one.id }, body: { ...body, version: one.version } })))
    await again()
}
async function settle(reason: string): Promise<void> {
  const { id, version } = settles.value!
  if (!(await run(() => api(SettleArrival, { params: { id }, body: { version, reason } })))) return
  settles.value = undefined
  await again()
}
async function again(): Promise<void> {
  await reload()
  emit('changed')
}
</script>

<template>
  <section v-if="arrivals.length" class="section" data-test="arrivals">
    <h2>Whoever asked for it</h2>
    <div v-for="one in arrivals" :key="one.id">
      <template v-if="one.mine"
        ><p>
          <b>{{ one.receipt }}</b> is in, at {{ one.place }}, since {{ day(one.askedOn) }}. Do you have it?
        </p>
        <ArrivalAnswer :lines="one.lines" :busy="busy" :reasons="reasons" @go="go(one, $event)"
      /></template>
      <p v-else>
        <b>{{ one.receipt }}</b> {{ one.requester }}:
        <span :class="{ 'tone-attention': one.maySettle }">{{ label('state', one.state) }}</span><template
          v-if="one.note"
          >, “{{ one.note }}”</template
        ><ElButton
          v-if="one.maySettle"
          link
          data-test="settle-arrival"
          @click="
            () => {
              clear()
              settles = one
            }
          "
          >It is settled</ElButton
        >
      </p>
    </div>
  </section>
  <ActDialog
    :open="settles !== undefined"
    title="It is settled"
    what="Nobody waits for it any more. What was done about it stands in the history."
    button="It is settled"
    :busy="busy"
    :reasons="reasons"
    @close="settles = undefined"
    @go="settle"
  />
</template>
