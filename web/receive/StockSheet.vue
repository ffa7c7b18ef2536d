<script setup lang="ts">
import '#contract/messages/receiving.ts'
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { AnswerCount, EndReservation, ReadHolding } from '#contract/receive/stock.ts'
import { api } from '#web/api.ts'
import StockActDialog from '#web/receive/StockActDialog.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, day, priceText, quantityText, since, unit } from '#web/shared/words.ts'

/** What is in stock of an item at a site: lots, movements, what is set apart, counts that wait. */
const route = useRoute()
const id = computed(() => String(route.params.id))
const { data: sheet, reload } = useRead(ReadHolding, () => ({ params: { id: id.value } }))
const { busy, reasons, run, clear } = useAction()
const act = ref<'issue' | 'move' | 'count' | 'reserve' | ''>('')
const answers = ref<{ id: string; answer: 'approve' | 'reject' }>()
async function answer(reason: string): Promise<void> {
  const { id: countId, answer: given } = answers.value!
  if (!(await run(() => api(AnswerCount, { params: { id: countId }, body: { answer: given, reason } })))) return
  answers.value = undefined
  await reload()
}
async function free(reservationId: string): Promise<void> {
  if (await run(() => api(EndReservation, { params: { id: reservationId }, body: {} }))) await reload()
}
async function done(): Promise<void> {
  act.value = ''
  await reload()
}
</script>

<template>
  <article v-if="sheet" class="stock" data-test="holding">
    <p class="quiet">
      <RouterLink :to="`/request/catalogue/${sheet.itemId}`">{{ sheet.itemNumber }}</RouterLink>, {{ sheet.place }}
    </p>
    <h1>{{ sheet.item }}</h1>
    <p class="figure">
      <b data-test="on-hand">{{ quantityText(sheet.quantity) }} {{ unit(sheet.unit) }}</b> on hand<template
        v-if="sheet.reserved !== '0'"
        >, {{ quantityText(sheet.reserved) }} set apart</template
      >. Worth {{ sheet.currency }} {{ amountText(sheet.value)
      }}<template v-if="sheet.averageCost">, {{ priceText(sheet.averageCost) }} each on average</template>.
    </p>
    <p class="bar">
      <template v-if="sheet.mayMove"
        ><ElButton type="primary" data-test="stock-issue" @click="act = 'issue'">Hand out</ElButton
        ><ElButton data-test="stock-move" @click="act = 'move'">Move</ElButton
        ><ElButton data-test="stock-count" @click="act = 'count'">Count</ElButton></template
      ><ElButton data-test="stock-reserve" @click="act = 'reserve'">Set apart</ElButton>
    </p>
    <section v-for="one in sheet.counts" :key="one.id" class="section" data-test="waiting-count">
      <h2>Count {{ one.number }} waits for a second person</h2>
      <p class="quiet">{{ one.by }}, {{ since(one.at) }}</p>
      <LineTable
        :rows="one.differences"
        :columns="lineColumns({ lot: 'Bin, batch', '#known': 'Known', '#found': 'Found' })"
        label="Differences"
        ><template #lot="{ row }">{{ [row.bin, row.batch].filter(Boolean).join(', ') || 'no bin' }}</template
        ><template #known="{ row }">{{ quantityText(row.known) }}</template
        ><template #found="{ row }">{{ quantityText(row.found) }}</template></LineTable
      >
      <p v-if="one.mayAnswer" class="bar">
        <ElButton
          type="primary"
          data-test="approve-count"
          @click="
            () => {
              clear()
              answers = { id: one.id, answer: 'approve' }
            }
          "
          >Book it</ElButton
        ><ElButton
          @click="
            () => {
              clear()
              answers = { id: one.id, answer: 'reject' }
            }
          "
          >Count again</ElButton
        >
      </p>
    </section>
    <section class="section">
      <h2>Where it lies</h2>
      <LineTable
        :rows="sheet.lots"
        :columns="lineColumns({ bin: 'Bin', batch: 'Batch', before: 'Best before', '#quantity': 'On hand' })"
        label="Lots"
        ><template #bin="{ row }">{{ row.bin || 'no bin' }}</template
        ><template #batch="{ row }">{{ row.batch }}</template
        ><template #before="{ row }">{{ row.bestBefore ? day(row.bestBefore) : '' }}</template
        ><template #quantity="{ row }">{{ quantityText(row.quantity) }}</template></LineTable
      >
    </section>
    <section v-if="sheet.reservations.length" class="section">
      <h2>Set apart</h2>
      <LineTable
        :rows="sheet.reservations"
        :columns="lineColumns({ purpose: 'For', by: 'By', '#quantity': 'How much', '#-acts': '' })"
        label="Set apart"
        ><template #purpose="{ row }"
          >{{ row.purpose }}<small v-if="row.until">until {{ day(row.until) }}</small></template
        ><template #by="{ row }">{{ row.by }}</template
        ><template #quantity="{ row }">{{ quantityText(row.quantity) }}</template
        ><template #acts="{ row }"
          ><ElButton v-if="row.mine || sheet.mayMove" link @click="free(row.id)">Set free</ElButton></template
        ></LineTable
      >
    </section>
    <section class="section">
      <h2>Movements</h2>
      <LineTable
        :rows="sheet.movements"
        :columns="lineColumns({ what: 'What', when: 'When', '#quantity': 'Quantity', '#value': sheet.currency })"
        label="Movements"
        ><template #what="{ row }"
          >{{ laterLabel('stock', row.kind) }} {{ row.number
          }}<small>{{ [row.purpose, row.bin, row.batch].filter(Boolean).join(', ') }}</small></template
        ><template #when="{ row }"
          >{{ since(row.at) }}<small>{{ row.by }}</small></template
        ><template #quantity="{ row }">{{ quantityText(row.quantity) }}</template
        ><template #value="{ row }">{{ amountText(row.value) }}</template></LineTable
      >
    </section>
    <StockActDialog v-if="act" :act="act" :holding="sheet" @close="act = ''" @done="done" />
    <ActDialog
      v-if="answers"
      :open="true"
      :title="answers.answer === 'approve' ? 'Book what was found' : 'It is counted again'"
      what="What was found is held against what is known now; the difference is booked with your name, or not at all."
      :button="answers.answer === 'approve' ? 'Book it' : 'Count again'"
      :busy="busy"
      :reasons="reasons"
      @close="answers = undefined"
      @go="answer"
    />
  </article>
</template>

<style scoped>
.stock {
  padding: 18px 22px;
}
.quiet,
small {
  color: var(--ink-quiet);
}
small {
  display: block;
}
.figure {
  margin: 6px 0 12px;
}
</style>
