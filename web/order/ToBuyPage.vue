<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ListRow } from '#contract/fields.ts'
import { DraftOrders, ToBuy } from '#contract/order/endpoints.ts'
import { ActOnPool, AskRequester, PoolLine, ReturnLines, SplitLine } from '#contract/order/pool.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { useSession } from '#web/people/session.ts'
import NewEventDialog from '#web/source/NewEventDialog.vue'
import { sumTexts } from '#core/money/text.ts'
import { commonRoutes, type Route } from '#core/request/routes.ts'
import { api } from '#web/api.ts'
import ListPane from '#web/lists/ListPane.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, day, label, priceText, unit } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'

/** The pool of approved lines: taken, handed on, put together, asked about, split, marked for quotes, sent back, and bought. */
type Asking = '' | 'handOn' | 'bundle' | 'ask' | 'returnRequest' | 'dropLines' | 'split'
const router = useRouter()
const { busy, reasons, run, clear } = useAction()
const chosen = ref<string[]>([])
const rows = shallowRef<ListRow[]>([])
const pane = ref<{ reload: () => void }>()
const choices = shallowRef<ResponseOf<typeof ReadChoices>>()
const asking = ref<Asking>('')
const personId = ref('')
const bundle = ref('')
const session = useSession()
const events = ref(false)
const line = shallowRef<ResponseOf<typeof PoolLine>>()
const part = ref({ quantity: '', offerId: '', supplierId: '', price: '' })
onMounted(async () => {
  choices.value = await api(ReadChoices)
})

const picked = computed(() => rows.value.filter(row => chosen.value.includes(row.id)))
const routes = computed(() =>
  commonRoutes(picked.value.map(row => (row.cells.routes ?? '').split(', ').filter(Boolean) as Route[])),
)
const groups = computed(() => {
  const map = new Map<string, { supplier: string; currency: string; lines: number; amounts: string[] }>()
  for (const row of picked.value) {
    const key = `${row.cells.supplier} ${row.currency}`
    const group = map.get(key) ?? {
      supplier: row.cells.supplier || 'no supplier',
      currency: row.currency ?? '',
      lines: 0,
      amounts: [],
    }
    map.set(key, { ...group, lines: group.lines + 1, amounts: [...group.amounts, row.amount ?? '0'] })
  }
  return [...map.values()]
})
const WHAT: Readonly<Record<string, string>> = {
  ask: 'The lines pause until the requester answers; everybody who looks at the request sees it.',
  returnRequest:
    'The whole request goes back to its requester for changes, and is decided again. What it reserved is free until then.',
  dropLines: 'The chosen lines will not be bought. What they reserved is free; the rest of the request goes on.',
}
async function draft(route: 'orderNow' | 'callOff'): Promise<void> {
  const done = await run(() => api(DraftOrders, { body: { lineIds: chosen.value, route } }))
  if (done?.orders[0])
    await router.push(done.orders.length === 1 ? `/order/${done.orders[0].id}` : '/order?state=draft&view=all')
  else pane.value?.reload()
}
async function act(
  action: 'take' | 'leave' | 'handOn' | 'bundle' | 'mark' | 'unmark',
  marked: 'askForQuotes' | 'setUpAgreement' | null = null,
): Promise<void> {
  const done = await run(() =>
    api(ActOnPool, {
      body: { lineIds: chosen.value, action, personId: personId.value || null, text: bundle.value, marked },
    }),
  )
  if (done) {
    asking.value = ''
    pane.value?.reload()
  }
}
async function say(reason: string): Promise<void> {
  const done =
    asking.value === 'ask'
      ? await run(() => api(AskRequester, { body: { lineIds: chosen.value, question: reason } }))
      : await run(() => api(ReturnLines, { body: { lineIds: chosen.value, how: asking.value as 'dropLines', reason } }))
  if (done) {
    asking.value = ''
    pane.value?.reload()
  }
}
async function openSplit(): Promise<void> {
  clear()
  line.value = await run(() => api(PoolLine, { params: { id: chosen.value[0]! } }))
  part.value = { quantity: '', offerId: '', supplierId: '', price: '' }
  if (line.value) asking.value = 'split'
}
async function split(): Promise<void> {
  const done = await run(() =>
    api(SplitLine, {
      params: { id: line.value!.id },
      body: {
        quantity: part.value.quantity || '0',
        offerId: part.value.offerId || null,
        supplierId: part.value.supplierId || null,
        price: part.value.price || null,
        currency: null,
      },
    }),
  )
  if (done) {
    asking.value = ''
    pane.value?.reload()
  }
}
const ask = (what: Asking): void => {
  clear()
  asking.value = what
}
</script>

<template>
  <div class="to-buy">
    <ListPane
      ref="pane"
      :list="ToBuy"
      name="to-buy"
      :selected="undefined"
      :wide="true"
      fixed
      :choosing="true"
      @choose="chosen = $event"
      @shown="rows = $event"
    >
      <template #acts>
        <p class="bar list-acts">
          <RouterLink to="/order">Orders</RouterLink
          ><ElButton
            type="primary"
            :disabled="busy || chosen.length === 0 || !routes.includes('orderNow')"
            data-primary
            data-test="draft-orders"
            @click="draft('orderNow')"
            >{{ groups.length > 1 ? `Make ${groups.length} draft orders` : 'Make a draft order' }}</ElButton
          ><ElButton v-if="routes.includes('callOff')" :disabled="busy" data-test="call-off" @click="draft('callOff')"
            >Call off the agreement</ElButton
          >
          <ElButton
            v-if="chosen.length && routes.includes('askForQuotes') && session.may('event.write')"
            :disabled="busy"
            data-test="ask-suppliers"
            @click="events = true"
            >Ask suppliers</ElButton
          >
          <span v-for="group in groups" :key="group.supplier + group.currency" class="quiet"
            >{{ group.supplier }}: {{ group.lines }} {{ group.lines === 1 ? 'line' : 'lines' }},
            {{ amountText(sumTexts(group.amounts)) }} {{ group.currency }}</span
          >
          <span v-if="chosen.length === 0" class="quiet"
            >Choose lines; those of one supplier and currency go on one order. Or
            <RouterLink to="/order/proposals" data-test="proposals">see the orders that are proposed</RouterLink>.</span
          >
        </p>
        <p v-if="chosen.length" class="bar with" data-test="pool-acts">
          <span class="quiet">{{
            routes.length
              ? `All of them allow: ${routes.map(route => label('route', route)).join(', ')}`
              : 'They allow nothing in common'
          }}</span>
          <ElButton link data-test="pool-take" @click="act('take')">take</ElButton
          ><ElButton link data-test="pool-hand-on" @click="ask('handOn')">hand on</ElButton
          ><ElButton link data-test="pool-leave" @click="act('leave')">back to the pool</ElButton
          ><ElButton link data-test="pool-bundle" @click="ask('bundle')">put together</ElButton
          ><ElButton link data-test="pool-ask" @click="ask('ask')">ask the requester</ElButton
          ><ElButton link v-if="chosen.length === 1" data-test="pool-split" @click="openSplit"> split </ElButton>
          <ElButton
            link
            v-if="routes.includes('askForQuotes')"
            data-test="pool-mark"
            @click="act('mark', 'askForQuotes')"
          >
            mark for a quote request</ElButton
          ><ElButton link v-if="routes.includes('setUpAgreement')" @click="act('mark', 'setUpAgreement')">
            mark for an agreement</ElButton
          ><ElButton link @click="act('unmark')">take the mark off</ElButton>
          <ElButton link data-test="pool-return" @click="ask('returnRequest')"> send the request back</ElButton
          ><ElButton link data-test="pool-drop" @click="ask('dropLines')"> will not be bought </ElButton>
        </p>
        <ReasonList v-if="!asking" :reasons="reasons" />
      </template>
      <template #empty>Nothing approved waits to be bought.</template>
    </ListPane>
    <NewEventDialog v-if="events" :line-ids="chosen" :title="picked[0]?.title ?? ''" @close="events = false" />
    <ActDialog
      :open="['ask', 'returnRequest', 'dropLines'].includes(asking)"
      :title="label('pool', asking)"
      :what="WHAT[asking] ?? ''"
      :button="label('pool', asking)"
      :busy="busy"
      :reasons="reasons"
      :danger="asking === 'dropLines'"
      @close="asking = ''"
      @go="say"
    />
    <ElDialog
      :model-value="asking === 'handOn' || asking === 'bundle'"
      :title="label('pool', asking)"
      width="420px"
      @close="asking = ''"
      ><ElSelect
        v-if="asking === 'handOn'"
        v-model="personId"
        filterable
        default-first-option
        placeholder="to whom"
        aria-label="To whom"
        data-test="pool-person"
        ><ElOption v-for="one in choices?.buyers" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
      ><ElInput
        v-else
        v-model="bundle"
        placeholder="a word for them, such as “January salt”"
        aria-label="A word for them"
        maxlength="60"
        data-test="pool-word"
      /><ReasonList :reasons="reasons" /><template #footer
        ><ElButton
          type="primary"
          :disabled="busy || (asking === 'handOn' && !personId)"
          data-test="pool-go"
          @click="act(asking as 'handOn')"
          >{{ label('pool', asking) }}</ElButton
        ><ElButton @click="asking = ''">Leave it</ElButton></template
      ></ElDialog
    >
    <ElDialog
      :model-value="asking === 'split' && !!line"
      title="Split over suppliers"
      width="560px"
      @close="asking = ''"
      ><template v-if="line"
        ><p>{{ line.description }}: {{ line.open }} {{ unit(line.unit) }} are to be bought.</p>
        <EntryForm :reasons="reasons" :busy="busy" columns @submit="split">
          <FormField :label="`Cut off, ${unit(line.unit)}`"
            ><NumberField v-model="part.quantity" label="Cut off" data-test="split-quantity" /></FormField
          ><FormField label="From the offer of" v-if="line.offers.length"
            ><ElSelect v-model="part.offerId" clearable :value-on-clear="''" data-test="split-offer"
              ><ElOption
                v-for="one in line.offers"
                :key="one.id"
                :value="one.id"
                :label="`${one.supplier}, ${priceText(one.price)} ${one.currency}, by ${day(one.earliest)}`" /></ElSelect></FormField
          ><template v-if="!part.offerId"
            ><FormField label="Or from"
              ><ElSelect v-model="part.supplierId" filterable default-first-option clearable :value-on-clear="''"
                ><ElOption
                  v-for="one in choices?.suppliers"
                  :key="one.id"
                  :value="one.id"
                  :label="one.label" /></ElSelect></FormField
            ><FormField label="At"><NumberField v-model="part.price" label="Price" /></FormField
          ></template>
          <template #acts
            ><ElButton type="primary" :disabled="busy || !part.quantity" data-test="split-go" native-type="submit"
              >Split</ElButton
            ><ElButton @click="asking = ''">Leave it</ElButton></template
          ></EntryForm
        ></template
      ></ElDialog
    >
  </div>
</template>

<style scoped>
.to-buy {
  flex: 1;
  min-height: 0;
}
.with {
  font-size: 12px;
  gap: 4px 14px;
  margin-top: 6px;
}
.gap {
  margin-top: 12px;
}
</style>
