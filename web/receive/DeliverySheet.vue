<script setup lang="ts">
import '#contract/messages/receiving.ts'
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { ReadDelivery, Receive, SetBecomes } from '#contract/receive/endpoints.ts'
import { Decimal } from '#core/money/decimal.ts'
import { isWork, type LineKind } from '#core/request/kinds.ts'
import { api } from '#web/api.ts'
import SheetFrame from '#web/frame/SheetFrame.vue'
import CountDialog from '#web/receive/CountDialog.vue'
import CountTable from '#web/receive/CountTable.vue'
import AnnouncedList from '#web/receive/AnnouncedList.vue'
import ArrivalSection from '#web/receive/ArrivalSection.vue'
import DeliveryReports from '#web/receive/DeliveryReports.vue'
import PieceDialog from '#web/receive/PieceDialog.vue'
import ReturnSection from '#web/receive/ReturnSection.vue'
import { useSession } from '#web/people/session.ts'
import { type DeliveryLine, freshEntry, useCounting } from '#web/receive/counting.ts'
import ReceiptTable from '#web/receive/ReceiptTable.vue'
import ScanField from '#web/receive/ScanField.vue'
import { scanned } from '#web/receive/scanned.ts'
import DayField from '#web/shared/DayField.vue'
import FormField from '#web/shared/FormField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'

const route = useRoute()
const id = computed(() => String(route.params.id))
const counting = useCounting()
const { sheet, failure, stale, reload } = useSheet(ReadDelivery, id, () => counting.touched.value)
const { busy, reasons, run, clear } = useAction()
const form = reactive({ receivedOn: '', placeId: '', note: '', checkReason: '' })
const done = ref('')
const detailed = ref<DeliveryLine>()
const mine = computed(() => sheet.value?.lines.filter(line => line.mayProve) ?? [])
const countedLines = computed(() => new Set(counting.bodies.value.map(one => one.lineId)))
const wantsReason = computed(() => reasons.value.some(reason => reason.code === 'receive.wantsReason'))
const isAllWork = computed(() =>
  mine.value.filter(line => countedLines.value.has(line.id)).every(line => isWork(line.kind as LineKind)),
)

watch(id, () => {
  counting.clear()
  despatchId.value = undefined
  done.value = ''
  clear()
  form.receivedOn = ''
})
watch(sheet, now => {
  if (now && !form.receivedOn)
    Object.assign(form, { receivedOn: now.today, placeId: now.usualPlaceId ?? '', note: '', checkReason: '' })
})

const session = useSession()
const finishing = ref(false)
const despatchId = ref<string>()
const mayFinish = computed(
  () =>
    session.may('delivery.receive') &&
    sheet.value!.receipts.some(one => one.parts.some(part => part.becomes === 'asset')),
)
/** What is announced and not in yet. */
const lesser = (a: string, b: string): string => (new Decimal(a).lt(b) ? a : b)
/** All that was announced stands in the count: only what differs is changed. */
function asAnnounced(one: NonNullable<typeof sheet.value>['announced'][number]): void {
  counting.clear()
  for (const line of mine.value) {
    const own = one.lines.filter(each => each.lineId === line.id)
    if (own.length > 0)
      counting.change(
        line,
        own.map(each => ({
          ...freshEntry(
            line,
            own.length === 1 && line.open !== null ? lesser(each.quantity, line.open) : each.quantity,
          ),
          batch: each.batch,
          bestBefore: each.bestBefore,
          serials: each.serials.join('\n'),
        })),
      )
  }
  despatchId.value = one.id
}

async function receive(all: boolean): Promise<void> {
  if (all) for (const line of mine.value) if (line.open !== null && line.open !== '0') counting.set(line, line.open)
  const answer = await run(() =>
    api(Receive, {
      params: { id: id.value },
      key: counting.key.value,
      body: {
        receivedOn: form.receivedOn,
        placeId: form.placeId,
        note: form.note,
        checkReason: form.checkReason || undefined,
        ...(despatchId.value ? { despatchId: despatchId.value } : {}),
        lines: counting.bodies.value,
      },
    }),
  )
  if (!answer) return
  const countedBefore = new Set(countedLines.value)
  counting.clear()
  despatchId.value = undefined
  if (sheet.value!.lines.some(line => countedBefore.has(line.id) && line.terms.becomes === 'asset'))
    finishing.value = answer.state === 'posted'
  Object.assign(form, { note: '', checkReason: '' })
  done.value =
    answer.state === 'asked'
      ? `${answer.number} waits for a second person, because more came than may come.`
      : `Receipt ${answer.number} is made.`
  await reload()
}
async function become(line: DeliveryLine, becomes: DeliveryLine['terms']['becomes']): Promise<void> {
  const body = { version: sheet.value!.version, becomes }
  if (await run(() => api(SetBecomes, { params: { id: id.value, lineId: line.id }, body }))) await reload()
}
function scan(text: string): string {
  const found = scanned(text, mine.value, counting, form.receivedOn)
  if (found.line) detailed.value = undefined
  return found.says
}
</script>

<template>
  <SheetFailure v-if="failure && !sheet" :failure="failure" @again="reload" />
  <SheetFrame
    v-else-if="sheet"
    :sheet="{ ...sheet, actions: sheet.actions.filter(one => !one.possible || countedLines.size === 0) }"
    :busy="busy"
    :stale="stale"
    @act="receive(true)"
    @changed="reload"
  >
    <template #kind
      ><b>Delivery for {{ sheet.number }}</b
      >, {{ sheet.supplier
      }}<template v-if="sheet.orderPath"
        >. <RouterLink :to="sheet.orderPath">See the order</RouterLink></template
      ></template
    >
    <template #acts
      ><ElButton
        v-if="countedLines.size"
        type="primary"
        :disabled="busy"
        data-primary
        data-test="receive-counted"
        @click="receive(false)"
        >{{
          isAllWork
            ? 'Accept the work'
            : countedLines.size === 1
              ? 'Receive this line'
              : `Receive ${countedLines.size} lines`
        }}<kbd class="hint">Ctrl ↵</kbd></ElButton
      ></template
    >
    <template #notice
      ><p v-if="done" class="tone-settled done" role="status" data-test="received">{{ done }}</p>
      <ReasonList :reasons="reasons" /><FormField label="Why more is kept" v-if="wantsReason"
        ><ElInput v-model="form.checkReason" data-test="check-reason"
      /></FormField>
      <div v-if="mine.length" class="where">
        <FormField label="On" class="day"><DayField v-model="form.receivedOn" label="On" /></FormField
        ><FormField label="At" class="place"
          ><ElSelect v-model="form.placeId"
            ><ElOption
              v-for="place in sheet.places"
              :key="place.id"
              :value="place.id"
              :label="place.label" /></ElSelect></FormField
        ><ScanField class="scan" :take="scan" /><FormField label="Note" class="grow"
          ><ElInput v-model="form.note"
        /></FormField></div
    ></template>
    <AnnouncedList :order-id="sheet.id" :announced="sheet.announced" :mine="mine.length > 0" @take="asAnnounced" />
    <CountTable :lines="sheet.lines" :counting="counting" @detail="detailed = $event" @becomes="become" />
    <p v-if="mayFinish" class="section">
      <ElButton data-test="finish-pieces" @click="finishing = true">Tags and serial numbers of its pieces</ElButton>
    </p>
    <DeliveryReports v-if="sheet.lines.some(line => isWork(line.kind as LineKind))" :order-id="id" @changed="reload" />
    <ReceiptTable v-if="sheet.receipts.length" :receipts="sheet.receipts" @changed="reload" />
    <ArrivalSection :order-id="id" :version="sheet.version" @changed="reload" />
    <ReturnSection v-if="sheet.receipts.length" :key="sheet.version" :order-id="id" @changed="reload" />
  </SheetFrame>
  <PieceDialog v-if="finishing" :order-id="id" @close="finishing = false" />
  <CountDialog
    v-if="detailed"
    :line="detailed"
    :entries="counting.entriesOf(detailed)"
    @close="detailed = undefined"
    @keep="
      entries => {
        counting.change(detailed!, entries)
        detailed = undefined
      }
    "
  />
</template>

<style scoped>
.where {
  display: flex;
  gap: 12px;
  flex-wrap: wrap;
  margin-top: 14px;
}
.grow {
  flex: 1;
  min-width: 140px;
}
.day {
  width: 150px;
}
.place {
  width: 210px;
}
.scan {
  width: 230px;
}
.done {
  margin-top: 10px;
  font-weight: 600;
}
.hint {
  margin-left: 8px;
  border: 0;
}
</style>
