<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import type { ReasonJson } from '#contract/fields.ts'
import { Invoices, ReadInvoiceFile } from '#contract/bill/endpoints.ts'
import { api, Refused, upload } from '#web/api.ts'
import StageFrame from '#web/frame/StageFrame.vue'
import { useSession } from '#web/people/session.ts'
import FileField from '#web/shared/FileField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { label } from '#web/shared/words.ts'

interface Outcome {
  name: string
  id: string
  number: string
  state: string
  reasons: readonly ReasonJson[]
}
const session = useSession()
const route = useRoute()
const open = ref(false)
const over = ref(false)
const outcomes = shallowRef<Outcome[]>([])
const left = ref(0)
onMounted(() => {
  if (route.query.read) open.value = true
})

/** Reads one file after the other; one that is refused does not stop the rest. */
async function read(files: readonly File[]): Promise<void> {
  open.value = true
  left.value += files.length
  for (const file of files) {
    const outcome = await readOne(file)
    outcomes.value = [...outcomes.value, outcome]
    left.value--
  }
}
async function readOne(file: File): Promise<Outcome> {
  try {
    const done = await api(ReadInvoiceFile, { body: { fileId: (await upload(file)).id } })
    return { name: file.name, id: done.id, number: done.number, state: done.state, reasons: [] }
  } catch (error) {
    return {
      name: file.name,
      id: '',
      number: '',
      state: '',
      reasons: error instanceof Refused ? error.reasons : [{ code: 'server.databaseAway', level: 'stop', details: {} }],
    }
  }
}
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
    <StageFrame stage="bill" name="invoices" :list="Invoices">
      <template v-if="session.may('invoice.write')" #acts
        ><p class="bar list-acts">
          <ElButton size="small" type="primary" data-test="read-invoices" @click="open = true">Read e-invoices</ElButton
          ><span class="quiet">or drop them here</span>
        </p></template
      >
      <template #list-empty>Nothing waits to be settled. Drop UBL invoices on this list to read them.</template>
      <RouterView />
    </StageFrame>
    <ElDialog v-model="open" title="Read e-invoices" width="640px">
      <p>
        UBL 2.1 invoices by EN 16931, one or many. Each is checked against the standard, then against order and receipt.
      </p>
      <p class="choose">
        <FileField
          label="Choose e-invoices, or drop them here"
          accept=".xml,application/xml,text/xml"
          multiple
          mark="invoice-files"
          @choose="read"
        />
      </p>
      <p v-if="left" role="status">{{ left }} to go …</p>
      <div v-for="(one, index) in outcomes" :key="index" class="outcome" data-test="invoice-outcome">
        <p>
          <b>{{ one.name }}</b>
          <template v-if="one.id"
            ><RouterLink :to="`/bill/${one.id}`" @click="open = false">{{ one.number }}</RouterLink
            >,
            <span :class="one.state === 'matched' ? 'tone-settled' : 'tone-stop'">{{
              label('state', one.state)
            }}</span></template
          >
        </p>
        <ReasonList :reasons="one.reasons" />
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
.outcome {
  border-top: 1px solid var(--rule-light);
  padding: 8px 0;
}
</style>
