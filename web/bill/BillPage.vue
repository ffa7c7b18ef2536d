<script setup lang="ts">
import '#contract/messages/billing.ts'
import { ElButton, ElDialog } from 'element-plus'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import '#contract/messages/later.ts'
import { Credits } from '#contract/bill/credits.ts'
import { Invoices, ReadInvoiceFiles } from '#contract/bill/endpoints.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import { ruleWords } from '#contract/messages/invoiceRules.ts'
import { api, Refused, upload } from '#web/api.ts'
import StageFrame from '#web/frame/StageFrame.vue'
import { useSession } from '#web/people/session.ts'
import FileField from '#web/shared/FileField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { label } from '#web/shared/words.ts'

/** `paper`: the file, where it can be typed beside what it shows. */
type Outcome = ResponseOf<typeof ReadInvoiceFiles>['results'][number] & { paper?: string }
const session = useSession()
const route = useRoute()
const LISTS = { invoices: Invoices, credits: Credits }
const shown = computed(() => (route.path.startsWith('/bill/credits') ? ('credits' as const) : ('invoices' as const)))
const open = ref(false)
const over = ref(false)
const outcomes = shallowRef<Outcome[]>([])
const left = ref(0)
onMounted(() => {
  if (route.query.read) open.value = true
})

/** Reads one file after the other, each with all that it holds; one that is refused does not stop the rest. */
async function read(files: readonly File[]): Promise<void> {
  open.value = true
  left.value += files.length
  for (const file of files) {
    outcomes.value = [...outcomes.value, ...(await readOne(file))]
    left.value--
  }
}
async function readOne(file: File): Promise<readonly Outcome[]> {
  try {
    const { id, mediaType } = await upload(file)
    const { results } = await api(ReadInvoiceFiles, { body: { fileIds: [id] } })
    return results.map(one =>
      mediaType === 'application/pdf' && one.state === 'refused' ? { ...one, paper: id } : one,
    )
  } catch (error) {
    const reasons: ReasonJson[] =
      error instanceof Refused ? [...error.reasons] : [{ code: 'server.databaseAway', level: 'stop', details: {} }]
    return [{ file: file.name, supplier: '', theirs: '', number: '', state: 'refused', path: '', reasons }]
  }
}
/** What each state came to, in a line: 28 match, 9 on hold, 3 refused. */
const summary = computed(() => {
  const counts = new Map<string, number>()
  for (const one of outcomes.value) counts.set(one.state, (counts.get(one.state) ?? 0) + 1)
  return [...counts]
    .map(([state, count]) => `${count} ${state === 'refused' ? 'refused' : label('state', state).toLowerCase()}`)
    .join(', ')
})
/** The rules that a document breaks: where, what was found and what was expected. */
const brokenIn = (one: Outcome): { rule: string; apart: string }[] =>
  one.reasons
    .filter(reason => reason.code === 'bill.rule')
    .map(({ details: { rule, place, found, expected } }) => ({
      rule: String(rule),
      apart: [`${place}:`, found ? `“${found}”` : 'nothing', expected ? `instead of ${expected}` : '']
        .filter(Boolean)
        .join(' '),
    }))
function dropped(event: DragEvent): void {
  over.value = false
  if (session.may('invoice.write') && event.dataTransfer?.files.length) void read([...event.dataTransfer.files])
}
</script>

<template>
  <div
    class="bill"
    :class="{ over }"
    @dragover.prevent="over = session.may('invoice.write')"
    @dragleave="over = false"
    @drop.prevent="dropped"
  >
    <StageFrame
      :key="shown"
      stage="bill"
      :name="shown"
      :list="LISTS[shown]"
      :together="
        shown === 'invoices' && (session.may('invoice.write') || session.may('hold.clear')) ? 'invoice' : undefined
      "
      :home="shown === 'credits' ? '/bill/credits' : '/bill'"
    >
      <template #acts
        ><p class="bar list-acts">
          <RouterLink to="/bill" :class="{ on: shown === 'invoices' }">Invoices</RouterLink
          ><RouterLink to="/bill/credits" :class="{ on: shown === 'credits' }" data-test="credit-notes"
            >Credit notes</RouterLink
          ><RouterLink to="/bill/recurring" data-test="recurring">By plan</RouterLink
          ><RouterLink v-if="session.may('budget.readAll')" to="/bill/journal" data-test="journal">Journal</RouterLink>
        </p>
        <p v-if="session.may('invoice.write')" class="bar list-acts">
          <ElButton size="small" type="primary" data-test="read-invoices" @click="open = true">Read e-invoices</ElButton
          ><span class="quiet">or drop them here</span
          ><RouterLink to="/bill/enter" data-test="enter-paper">From paper</RouterLink>
        </p></template
      >
      <template #list-empty>{{
        shown === 'credits'
          ? 'No credit note.'
          : 'Nothing waits to be settled. Drop e-invoices on this list to read them.'
      }}</template>
      <RouterView />
    </StageFrame>
    <ElDialog v-model="open" title="Read e-invoices" width="640px">
      <p>
        UBL or CII by EN 16931, PDFs with data in them, or ZIPs of those. Each is checked against the standard, then
        against order and receipt.
      </p>
      <p class="choose">
        <FileField
          label="Choose e-invoices, or drop them here"
          accept=".xml,.pdf,.zip,application/xml,text/xml,application/pdf,application/zip"
          multiple
          mark="invoice-files"
          @choose="read"
        />
      </p>
      <p role="status" data-test="invoice-summary">
        {{ summary }}<template v-if="left">{{ summary ? '; ' : '' }}{{ left }} to go …</template>
      </p>
      <div v-for="(one, index) in outcomes" :key="index" class="outcome" data-test="invoice-outcome">
        <p class="head">
          <span
            ><b>{{ one.supplier || one.file }}</b> {{ one.theirs
            }}<small v-if="one.supplier">{{ one.file }}</small></span
          >
          <span
            ><RouterLink v-if="one.path" :to="one.path" @click="open = false">{{ one.number }}</RouterLink>
            <span :class="one.state === 'matched' || one.state === 'waiting' ? 'tone-settled' : 'tone-stop'">{{
              one.state === 'refused' ? 'Refused' : label('state', one.state)
            }}</span></span
          >
        </p>
        <ul v-if="brokenIn(one).length" class="broken-rules">
          <li v-for="(rule, at) in brokenIn(one)" :key="at">
            <b>{{ rule.rule }}</b> {{ ruleWords(rule.rule) }} <small>{{ rule.apart }}</small>
          </li>
        </ul>
        <ReasonList :reasons="one.reasons.filter(reason => reason.code !== 'bill.rule')" />
        <p v-if="one.paper && one.reasons.some(reason => reason.code === 'bill.isPdf')">
          <RouterLink :to="`/bill/enter?file=${one.paper}`" data-test="type-it">Type it beside the paper</RouterLink>
        </p>
      </div>
    </ElDialog>
  </div>
</template>

<style scoped>
.bill {
  flex: 1;
  display: flex;
  min-height: 0;
}
.bill.over {
  outline: 3px dashed var(--tide);
  outline-offset: -6px;
}
.choose {
  margin: 12px 0;
}
.head {
  display: flex;
  justify-content: space-between;
  gap: 16px;
}
small {
  display: block;
  color: var(--ink-quiet);
}
.broken-rules {
  margin: 6px 0;
  border-left: 3px solid var(--madder);
  padding-left: 12px;
  list-style: none;
}
.broken-rules li {
  margin-bottom: 6px;
}
.outcome {
  border-top: 1px solid var(--rule-light);
  padding: 8px 0;
}
</style>
