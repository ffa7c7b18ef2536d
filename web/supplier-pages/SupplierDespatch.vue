<script setup lang="ts">
import '#contract/messages/receiving.ts'
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import {
  type DespatchBody,
  OwnDespatches,
  OwnOrderFile,
  OwnDespatchFile,
  SaveDespatch,
  UploadOrderFile,
  WithdrawDespatch,
} from '#contract/receive/despatch.ts'
import { PACKAGE_KINDS } from '#core/receive/despatch.ts'
import { readSerials } from '#core/receive/serials.ts'
import { api, pathOf, upload } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FileField from '#web/shared/FileField.vue'
import HungFiles from '#web/shared/HungFiles.vue'
import FormField from '#web/shared/FormField.vue'
import { t } from '#web/shared/language.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { day, quantityText, unit, words } from '#web/shared/words.ts'
import type { OwnOrder } from '#web/supplier-pages/invoiceEntry.ts'

/**
 * What a supplier announces of its order: what comes when, in which packages, with batches and serial numbers;
 * corrected until it is received.
 */
const props = defineProps<{ order: OwnOrder }>()
const session = useSession()
const { data, reload } = useRead(OwnDespatches, () => ({ params: { id: props.order.id } }))
const { busy, reasons, run, clear } = useAction()
type Despatch = ResponseOf<typeof OwnDespatches>['despatches'][number]
const open = ref<{ id: string | null; version: number }>()
const form = ref<DespatchBody>(blank())
const serials = ref<string[]>([])
const files = ref<Despatch['files']>([])
const send = (file: File) => run(() => upload(file, UploadOrderFile.path))
const left = ref<readonly { row: number; code: string; details: Record<string, string | number> }[]>([])
const lines = computed(() => new Map(props.order.lines.map(line => [line.lineId, line])))
function blank(): DespatchBody {
  return {
    number: '',
    despatchedOn: session.today,
    arrivesOn: session.today,
    carrier: '',
    tracking: '',
    note: '',
    packages: [],
    lines: [],
  }
}
function fill(entry: DespatchBody): void {
  form.value = {
    ...entry,
    packages: entry.packages.map(one => ({ ...one })),
    lines: entry.lines.map(one => ({ ...one })),
  }
  serials.value = entry.lines.map(one => one.serials.join('\n'))
}
function start(one?: Despatch): void {
  clear()
  left.value = []
  if (one) {
    const { id: _id, ours: _ours, state: _state, version: _version, files: known, ...entry } = one
    files.value = known
    fill(entry)
  } else {
    files.value = []
    fill({ ...blank(), lines: data.value?.open ?? [] })
  }
  open.value = { id: one?.id ?? null, version: one?.version ?? 0 }
}
async function save(send: boolean): Promise<void> {
  const entry = {
    ...form.value,
    lines: form.value.lines
      .map((line, index) => ({ ...line, serials: [...readSerials(serials.value[index] ?? '').serials] }))
      .filter(line => line.quantity !== '' && line.quantity !== '0'),
    fileIds: files.value.map(file => file.id),
  }
  const body = { despatchId: open.value!.id, version: open.value!.version, revision: props.order.revision, send, entry }
  if (!(await run(() => api(SaveDespatch, { params: { id: props.order.id }, body })))) return
  open.value = undefined
  await reload()
}
async function withdraw(id: string): Promise<void> {
  if (await run(() => api(WithdrawDespatch, { params: { id }, body: {} }))) await reload()
}
async function fromFile([file]: File[]): Promise<void> {
  const text = await file!.text()
  const read = await run(() => api(OwnDespatchFile, { params: { id: props.order.id }, body: { text } }))
  if (!read) return
  fill(read.entry)
  left.value = read.left
}
const split = (index: number): void => {
  form.value.lines.splice(index + 1, 0, { ...form.value.lines[index]!, quantity: '', batch: '', serials: [] })
  serials.value.splice(index + 1, 0, '')
}
const state = (one: Despatch): string =>
  ({ draft: t('a draft'), sent: t('announced'), received: t('received'), withdrawn: t('taken back') })[one.state]
</script>

<template>
  <section v-if="data && (data.despatches.length || data.open.length)" class="section" data-test="despatches">
    <h2>{{ t('Despatch') }}</h2>
    <p v-for="one in data.despatches" :key="one.id" class="bar">
      <span
        >{{ one.number || one.ours }}, {{ state(one) }}: {{ t('arrives on {day}', { day: day(one.arrivesOn) })
        }}<template v-for="file in one.files" :key="file.id"
          >,
          <a :href="pathOf(OwnOrderFile, { id: order.id, fileId: file.id })" target="_blank">{{
            file.name
          }}</a></template
        >{{ one.carrier ? `, ${one.carrier}` : '' }}{{ one.tracking ? ` ${one.tracking}` : '' }}</span
      ><template v-if="one.state === 'draft' || one.state === 'sent'"
        ><ElButton link :data-test="`despatch-${one.ours}`" @click="start(one)">{{
          one.state === 'sent' ? t('Correct it') : t('Write on')
        }}</ElButton
        ><ElButton link @click="withdraw(one.id)">{{ t('Take it back') }}</ElButton></template
      >
    </p>
    <p v-if="data.open.length && data.why.length === 0">
      <ElButton data-test="announce" @click="start()">{{ t('Announce a despatch') }}</ElButton>
    </p>
    <ElDialog v-if="open" :model-value="true" :title="t('Announce a despatch')" width="860px" @close="open = undefined">
      <FileField
        :label="t('Fill it in from a UBL file (DespatchAdvice)')"
        accept=".xml"
        :busy="busy"
        mark="despatch-file"
        @choose="fromFile"
      />
      <p v-for="one in left" :key="one.row" class="reasons check">
        {{ t('Row {row} is left:', { row: one.row }) }} {{ words(one) }}
      </p>
      <EntryForm :reasons="reasons" :busy="busy" @submit="save(true)">
        <div class="head">
          <FormField :label="t('Your number')"><ElInput v-model="form.number" maxlength="40" /></FormField
          ><FormField :label="t('Despatched on')"
            ><DayField v-model="form.despatchedOn" :label="t('Despatched on')" /></FormField
          ><FormField :label="t('Arrives on')" place="arrivesOn"
            ><DayField v-model="form.arrivesOn" :label="t('Arrives on')" mark="arrives-on" /></FormField
          ><FormField :label="t('Carrier')"><ElInput v-model="form.carrier" data-test="carrier" /></FormField
          ><FormField :label="t('Tracking number')"
            ><ElInput v-model="form.tracking" maxlength="80" data-test="tracking" /></FormField
          ><FormField :label="t('Note')"><ElInput v-model="form.note" /></FormField>
        </div>
        <div
          v-for="(one, index) in form.lines"
          :key="index"
          class="line"
          :class="{ packed: form.packages.length }"
          :data-place="`lines.${index}.quantity`"
        >
          <p>
            <b>{{ lines.get(one.lineId)?.description }}</b><small v-if="lines.get(one.lineId)"
              >{{ quantityText(lines.get(one.lineId)!.quantity) }} {{ unit(lines.get(one.lineId)!.unit) }}</small
            >
          </p>
          <NumberField v-model="one.quantity" :label="t('Quantity')" width="90px" :data-test="`despatch-${index}`" />
          <ElInput v-model="one.batch" :placeholder="t('Batch')" :aria-label="t('Batch')" />
          <DayField v-model="one.bestBefore" :label="t('Best before')" :empty="t('Best before')" />
          <ElSelect
            v-if="form.packages.length"
            v-model="one.package"
            clearable
            :value-on-clear="null"
            :placeholder="t('Package')"
            :aria-label="t('Package')"
            ><ElOption v-for="(_, at) in form.packages" :key="at" :value="at" :label="String(at + 1)" /></ElSelect
          ><ElInput
            v-model="serials[index]"
            type="textarea"
            :rows="1"
            :placeholder="t('Serial numbers')"
            :aria-label="t('Serial numbers')"
            :data-test="`despatch-serials-${index}`"
          /><ElButton link @click="split(index)">{{ t('another batch') }}</ElButton>
        </div>
        <div v-for="(one, index) in form.packages" :key="index" class="line package">
          <p>
            <b>{{ t('Package {number}', { number: index + 1 }) }}</b>
          </p>
          <ElSelect v-model="one.kind" :aria-label="t('Kind')"
            ><ElOption v-for="kind in PACKAGE_KINDS" :key="kind" :value="kind" :label="kind" /></ElSelect
          ><FormField :label="t('SSCC')" :place="`packages.${index}.sscc`"
            ><ElInput v-model="one.sscc" maxlength="20" :data-test="`sscc-${index}`" /></FormField
          ><FormField :label="t('Weight, kg')" :place="`packages.${index}.weight`"
            ><ElInput v-model="one.weight" /></FormField
          ><FormField :label="t('Size, cm')"><ElInput v-model="one.size" maxlength="40" /></FormField>
        </div>
        <p>
          <ElButton
            link
            data-test="add-package"
            @click="form.packages.push({ kind: 'CT', sscc: '', weight: '', size: '' })"
            >{{ t('Add a package') }}</ElButton
          >
        </p>
        <HungFiles v-model="files" :send="send" :busy="busy" mark="despatch-files" />
        <template #acts
          ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="send-despatch">{{
            t('Announce it')
          }}</ElButton
          ><ElButton :disabled="busy" data-test="keep-despatch" @click="save(false)">{{
            t('Keep as a draft')
          }}</ElButton
          ><ElButton @click="open = undefined">{{ t('Leave it') }}</ElButton></template
        >
      </EntryForm>
    </ElDialog>
  </section>
</template>

<style scoped>
.head {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
  gap: 0 12px;
}
.line {
  display: grid;
  grid-template-columns: minmax(120px, 1.2fr) 90px 90px 180px minmax(100px, 1fr) auto;
  gap: 8px;
  align-items: center;
  border-top: 1px solid var(--rule);
  padding: 8px 0;
}
/* a package for each line: one field more */
.packed {
  grid-template-columns: minmax(100px, 1.2fr) 90px 72px 180px 72px minmax(90px, 1fr) auto;
}
.package {
  grid-template-columns: minmax(110px, 1fr) 90px 1.4fr 1fr 1fr;
}
small {
  display: block;
  color: var(--ink-quiet);
}
@media (width <= 700px) {
  .line,
  .packed,
  .package {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
