<script setup lang="ts">
import { ElButton, ElDialog, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { evenly, inOrder, whyNotSchedule } from '#core/order/schedule.ts'
import DatedRows from '#web/order/DatedRows.vue'
import type { OrderForm } from '#web/order/orderForm.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import { useRead } from '#web/shared/useRead.ts'
import { quantityText, unit } from '#web/shared/words.ts'

/** When and where a line comes: at once, or in several deliveries that together are the line. */
const props = defineProps<{ line: OrderForm['lines'][number] }>()
const emit = defineEmits<{ close: []; change: [line: Partial<OrderForm['lines'][number]>] }>()
const session = useSession()
const { data: choices } = useRead(ReadChoices)
const { line } = props
type Row = OrderForm['lines'][number]['schedule'][number]
const rows = ref<Row[]>(
  line.schedule.length > 0
    ? line.schedule.map(row => ({ ...row }))
    : [{ quantity: line.quantity, date: line.needBy ?? session.today, addressId: null, place: '' }],
)
const to = ref(line.addressId)
const count = ref(Math.max(2, rows.value.length))
const every = ref(30)
const against = computed(() =>
  whyNotSchedule(line, rows.value).map(reason => ({ ...reason, clearedBy: [...(reason.clearedBy ?? [])] })),
)
const nameOf = (id: string | null): string => choices.value?.addresses.find(one => one.id === id)?.label ?? ''

function cut(): void {
  const first = inOrder(rows.value)[0]!
  rows.value = evenly(line.quantity, count.value).map((quantity, at) => ({
    ...first,
    quantity,
    date: addDays(first.date, at * every.value),
  }))
}
function atOnce(): void {
  const last = inOrder(rows.value).at(-1)!
  rows.value = [{ ...last, quantity: line.quantity }]
}
function use(): void {
  const place = to.value === line.addressId ? line.place : nameOf(to.value)
  const [only] = rows.value
  const several = rows.value.length > 1
  emit('change', {
    schedule: several ? inOrder(rows.value) : [],
    needBy: inOrder(rows.value)[0]!.date,
    addressId: several ? to.value : (only!.addressId ?? to.value),
    place: several || only!.addressId === null ? place : only!.place,
    planned: true,
  })
  emit('close')
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="`When and where line ${line.position} comes`"
    width="720px"
    append-to-body
    @close="emit('close')"
  >
    <EntryForm :reasons="against" :busy="false" @submit="use">
      <p>{{ line.description }}, {{ quantityText(line.quantity) }} {{ unit(line.unit) }}</p>
      <p class="bar">
        The line goes to
        <ElSelect v-model="to" filterable aria-label="Where the line goes" data-test="line-place" style="width: 260px"
          ><ElOption v-for="one in choices?.addresses" :key="one.id" :value="one.id" :label="one.label"
        /></ElSelect>
      </p>
      <DatedRows v-slot="{ row, change }" v-model="rows" :unit="line.unit" :total="line.quantity" mark="part">
        <ElSelect
          :model-value="row.addressId ?? undefined"
          filterable
          clearable
          placeholder="where the line goes"
          aria-label="Where this delivery goes"
          style="width: 190px"
          @update:model-value="change({ addressId: $event || null, place: nameOf($event || null) })"
          ><ElOption v-for="one in choices?.addresses" :key="one.id" :value="one.id" :label="one.label"
        /></ElSelect>
      </DatedRows>
      <p class="bar even">
        <ElButton link data-test="cut-evenly" @click="cut">Cut evenly</ElButton> into
        <ElInputNumber
          v-model="count"
          :min="2"
          :max="60"
          size="small"
          controls-position="right"
          aria-label="Deliveries"
        />
        every
        <ElInputNumber
          v-model="every"
          :min="1"
          :max="365"
          size="small"
          controls-position="right"
          aria-label="Days between"
        />
        days<ElButton v-if="rows.length > 1" link data-test="at-once" @click="atOnce"
          >All at once, on the last day</ElButton
        >
      </p>
      <p class="bar">
        <ElButton type="primary" native-type="submit" :disabled="against.length > 0" data-test="use-schedule"
          >Use it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.even {
  margin: 12px 0;
}
</style>
