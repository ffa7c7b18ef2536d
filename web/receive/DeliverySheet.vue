<script setup lang="ts">
import { ElButton, ElDatePicker, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { ReadDelivery, Receive, ReverseReceipt } from '#contract/receive/endpoints.ts'
import { api } from '#web/api.ts'
import GaugeBar from '#web/charts/GaugeBar.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, day, label, quantityText, since, unit } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'
import DeliveryList from '#web/order/DeliveryList.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

const route = useRoute()
const id = computed(() => String(route.params.id))
const typed = ref(false)
const { sheet, failure, stale, reload } = useSheet(ReadDelivery, id, () => typed.value)
const { busy, reasons, run, clear } = useAction()
const counts = reactive<Record<string, string>>({})
const form = reactive({ receivedOn: '', placeId: '', note: '', checkReason: '' })
const reversing = ref('')
const done = ref('')
const mine = computed(() => sheet.value?.lines.filter(line => line.mayProve) ?? [])
const counted = computed(() => mine.value.filter(line => Number(counts[line.id] ?? '') > 0))
const wantsReason = computed(() => reasons.value.some(reason => reason.code === 'receive.wantsReason'))
/** One key per attempt to receive: a second press or a broken connection never counts twice. */
let key = crypto.randomUUID()

watch(id, () => {
  for (const line of Object.keys(counts)) delete counts[line]
  typed.value = false
  done.value = ''
  clear()
  form.receivedOn = ''
})
watch(sheet, now => {
  if (now && !form.receivedOn)
    Object.assign(form, { receivedOn: now.today, placeId: now.usualPlaceId ?? '', note: '', checkReason: '' })
})
const set = (lineId: string, value: string): void => {
  counts[lineId] = value
  typed.value = true
  key = crypto.randomUUID()
}

async function receive(all: boolean): Promise<void> {
  if (all) for (const line of mine.value) if (line.open !== '0') counts[line.id] = line.open
  const answer = await run(() =>
    api(Receive, {
      params: { id: id.value },
      key,
      body: {
        receivedOn: form.receivedOn,
        placeId: form.placeId,
        note: form.note,
        checkReason: form.checkReason || undefined,
        lines: counted.value.map(line => ({ lineId: line.id, quantity: counts[line.id]! })),
      },
    }),
  )
  if (!answer) return
  for (const line of Object.keys(counts)) delete counts[line]
  key = crypto.randomUUID()
  Object.assign(form, { note: '', checkReason: '' })
  typed.value = false
  done.value = `Receipt ${answer.number} is made.`
  await reload()
}
async function reverse(reason: string): Promise<void> {
  if (await run(() => api(ReverseReceipt, { params: { id: reversing.value }, body: { reason } }))) {
    reversing.value = ''
    await reload()
  }
}
</script>

<template>
  <SheetFailure v-if="failure && !sheet" :failure="failure" @again="reload" />
  <SheetFrame
    v-else-if="sheet"
    :sheet="{ ...sheet, actions: sheet.actions.filter(one => !one.possible || counted.length === 0) }"
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
        v-if="counted.length"
        type="primary"
        :disabled="busy"
        data-primary
        data-test="receive-counted"
        @click="receive(false)"
        >{{
          counted.every(line => !['goods', 'goodsByAmount'].includes(line.kind))
            ? 'Accept the work'
            : counted.length === 1
              ? 'Receive this line'
              : `Receive ${counted.length} lines`
        }}<kbd class="hint">Ctrl ↵</kbd></ElButton
      ></template
    >
    <template #notice
      ><p v-if="done" class="tone-settled done" role="status" data-test="received">{{ done }}</p>
      <ReasonList v-if="!reversing" :reasons="reasons" /><FormField label="Why more is kept" v-if="wantsReason"
        ><ElInput v-model="form.checkReason" data-test="check-reason"
      /></FormField>
      <div v-if="mine.length" class="where">
        <FormField label="On"
          ><ElDatePicker
            v-model="form.receivedOn"
            type="date"
            value-format="YYYY-MM-DD"
            format="D MMM YYYY" /></FormField
        ><FormField label="At" class="place"
          ><ElSelect v-model="form.placeId"
            ><ElOption
              v-for="place in sheet.places"
              :key="place.id"
              :value="place.id"
              :label="place.label" /></ElSelect></FormField
        ><FormField label="Note" class="grow"><ElInput v-model="form.note" /></FormField></div
    ></template>
    <LineTable
      class="section"
      :rows="sheet.lines"
      :columns="
        lineColumns({
          '-^position': 'Position',
          line: 'Line',
          '#expected': 'Expected',
          '#^done': 'In so far',
          ...(mine.length ? { '#count': 'Count now' } : {}),
          '^gauge': 'How far it has come',
        })
      "
      label="Lines"
      :key-of="line => line.id"
      ><template #position="{ row: line }"
        ><span class="unit">{{ line.position }}</span></template
      >
      <template #line="{ row: line }"
        >{{ line.description
        }}<small>{{ [line.itemNumber, line.address && `to ${line.address}`].filter(Boolean).join(', ') }}</small
        ><DeliveryList :deliveries="line.schedule" :unit="line.unit" /><small
          v-if="line.schedule.length === 0 && (line.promisedDate || line.needBy)"
          >expected {{ day(line.promisedDate ?? line.needBy) }}</small
        ></template
      >
      <template #expected="{ row: line }"
        >{{ quantityText(line.ordered) }} <span class="unit">{{ unit(line.unit) }}</span><small
          v-if="line.done !== '0'"
          class="only-phone"
          >{{ quantityText(line.done) }} in</small
        ></template
      >
      <template #done="{ row: line }">{{ quantityText(line.done) }}</template>
      <template #count="{ row: line }"
        ><span :data-place="`lines.${line.position}.quantity`"
          ><NumberField
            v-if="line.mayProve"
            :model-value="counts[line.id] ?? ''"
            :label="`Count of ${line.description}`"
            width="110px"
            :data-test="`count-${line.position}`"
            @update:model-value="set(line.id, $event)"
          /><small v-else>{{
            line.proof === 'none'
              ? 'nothing to prove'
              : ['goods', 'goodsByAmount'].includes(line.kind)
                ? 'a receiver counts it'
                : 'the requester accepts it'
          }}</small
          ><template v-if="line.mayProve"
            ><ElButton
              link
              v-for="one in line.instalments"
              :key="one.title"
              class="instalment"
              :data-test="`instalment-${line.position}`"
              @click="set(line.id, one.amount)"
            >
              {{ one.title }}: {{ amountText(one.amount) }}
            </ElButton></template
          ></span
        ></template
      >
      <template #gauge="{ row: line }"><GaugeBar :gauge="line.gauge" /></template
    ></LineTable>
    <section v-if="sheet.receipts.length" class="section">
      <h2>Receipts</h2>
      <LineTable
        :rows="sheet.receipts"
        :columns="lineColumns({ number: 'Receipt', when: 'When', what: 'What', acts: '' })"
        label="Receipts"
        bare
        :key-of="one => one.id"
        ><template #number="{ row: one }"
          ><b>{{ one.number }}</b
          ><small :class="{ 'tone-attention': one.state === 'reversed' }">{{
            label('state', one.state)
          }}</small></template
        >
        <template #when="{ row: one }"
          >{{ day(one.receivedOn) }} at {{ one.place
          }}<small>{{ one.by }}, {{ since(one.at) }}{{ one.note ? `: “${one.note}”` : '' }}</small></template
        >
        <template #what="{ row: one }">{{
          one.lines.map(line => `line ${line.position}: ${quantityText(line.quantity)} ${unit(line.unit)}`).join('; ')
        }}</template>
        <template #acts="{ row: one }"
          ><ElButton
            link
            v-if="one.mayReverse"
            :data-test="`reverse-${one.number}`"
            @click="
              () => {
                clear()
                reversing = one.id
              }
            "
          >
            Take back
          </ElButton></template
        ></LineTable
      >
    </section>
  </SheetFrame>
  <ActDialog
    :open="reversing !== ''"
    title="Take this receipt back"
    what="Its counts are taken out again by counter-entries; the receipt stays and says why."
    button="Take it back"
    :busy="busy"
    :reasons="reasons"
    @close="reversing = ''"
    @go="reverse"
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
.place {
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
.instalment {
  display: block;
  margin-left: auto;
  font-size: 12px;
  min-height: 24px;
}
</style>
