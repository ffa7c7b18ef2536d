<script setup lang="ts">
import '#contract/messages/receiving.ts'
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import type { BodyOf } from '#contract/endpoint.ts'
import { ConcludeInspection, InspectionDebit, ReadInspection } from '#contract/receive/inspections.ts'
import { api, pathOf } from '#web/api.ts'
import SheetFrame from '#web/frame/SheetFrame.vue'
import FindingForm from '#web/receive/FindingForm.vue'
import ReadingTable from '#web/receive/ReadingTable.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, label, quantityText, unit } from '#web/shared/words.ts'

/** Goods that wait until somebody has said which of them are good: what is looked at, what was found, and what follows. */
const route = useRoute()
const id = computed(() => String(route.params.id))
const typing = ref(false)
const { sheet, failure, stale, reload } = useSheet(ReadInspection, id, () => typing.value)
const { busy, reasons, run } = useAction()
async function conclude(body: Omit<BodyOf<typeof ConcludeInspection>, 'version'>): Promise<void> {
  const version = sheet.value!.version
  if (!(await run(() => api(ConcludeInspection, { params: { id: id.value }, body: { ...body, version } })))) return
  typing.value = false
  await reload()
}
</script>

<template>
  <SheetFailure v-if="failure && !sheet" :failure="failure" @again="reload" />
  <SheetFrame v-else-if="sheet" :sheet="sheet" :busy="busy" :stale="stale" @changed="reload">
    <template #kind
      ><b>{{ sheet.number }}</b
      >, {{ quantityText(sheet.left) }} {{ unit(sheet.unit) }} of
      <RouterLink :to="`/receive/${sheet.orderId}`">{{ sheet.order }}</RouterLink>, {{ sheet.supplier }}</template
    >
    <template #acts
      ><ElButton
        v-if="sheet.debitNumber"
        tag="a"
        :href="pathOf(InspectionDebit, { id: sheet.id })"
        target="_blank"
        data-test="debit"
        >Debit note {{ sheet.debitNumber }}</ElButton
      ></template
    >
    <template #notice
      ><p v-if="sheet.state === 'waiting' && sheet.billsWait" class="quiet">
        Its bills wait until it has passed.
      </p></template
    >
    <p class="section quiet">
      {{ sheet.receipt }}, line {{ sheet.position }}, at {{ sheet.place }}{{ sheet.detail ? `, ${sheet.detail}` : '' }}
    </p>
    <FindingForm
      v-if="sheet.mayConclude.length === 0"
      :key="sheet.id"
      :left="sheet.left"
      :unit="sheet.unit"
      :plan="sheet.plan"
      :characteristics="sheet.characteristics"
      :reasons="reasons"
      :busy="busy"
      @typing="typing = true"
      @go="conclude"
    />
    <section v-else-if="sheet.state !== 'waiting' && sheet.by" class="section" data-test="finding">
      <h2>What was found</h2>
      <p>
        {{ sheet.by }} looked at {{ sheet.finding.looked }}, {{ sheet.failed }} failed. Taken as it is
        {{ quantityText(sheet.finding.accepted) }}, for {{ quantityText(sheet.finding.deductPercent) }} % less
        {{ quantityText(sheet.finding.deducted) }}, not taken {{ quantityText(sheet.finding.rejected) }}
        {{ unit(sheet.unit) }}.<template v-if="sheet.debitNumber">
          Taken off: {{ sheet.currency }} {{ amountText(sheet.debitNet) }}.</template
        >
      </p>
      <p v-if="sheet.finding.reason" class="quiet">“{{ sheet.finding.reason }}”</p>
      <ReadingTable
        v-if="sheet.finding.readings.length"
        :readings="sheet.finding.readings"
        :characteristics="sheet.characteristics"
        closed
      />
      <p v-if="sheet.finding.rejected !== '0'">
        <RouterLink :to="`/receive/${sheet.orderId}`">Send it back</RouterLink>
      </p>
    </section>
    <p v-else-if="sheet.state === 'waiting'" class="section quiet">
      {{ label('state', 'waiting') }}: whoever receives says what is good.
    </p>
  </SheetFrame>
</template>

<style scoped>
.quiet {
  color: var(--ink-quiet);
}
</style>
