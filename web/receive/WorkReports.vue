<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadReports, SaveReport } from '#contract/receive/reports.ts'
import { useSession } from '#web/people/session.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import HungFiles from '#web/shared/HungFiles.vue'
import { t } from '#web/shared/language.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { day, quantityText, unit } from '#web/shared/words.ts'

/** Work of an order: what is left under each ceiling, what was reported, what became of it; and the form that reports more. */
type Known = ResponseOf<typeof ReadReports>
const props = defineProps<{
  known: Known
  save: (body: BodyOf<typeof SaveReport>) => Promise<unknown>
  supplier?: boolean
  /** Sends a file that is hung on a report, and where one is found. */
  send: (file: File) => Promise<{ id: string; name: string }>
  fileAt: (fileId: string) => string
}>()
const emit = defineEmits<{ changed: []; answer: [reports: Known['reports'], how: 'accept' | 'refuse'] }>()
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const writes = ref<{ lineId: string; reportId: string | null; version: number }>()
const form = reactive({ number: '', quantity: '', from: session.today, to: session.today, place: '', note: '' })
const files = ref<Known['reports'][number]['files']>([])
const sendFile = (file: File) => run(() => props.send(file))
const people = ref<{ name: string; quantity: string }[]>([])
const line = computed(() => props.known.lines.find(one => one.lineId === writes.value?.lineId))
const waiting = computed(() => props.known.reports.filter(one => one.mayAnswer))
const ORDER = (order: Known['lines'][number]['order']): string =>
  ({
    reportFirst: t('The report comes first; the invoice is paid for what is accepted.'),
    invoiceFirst: t('The invoice makes the report and is paid once it is accepted.'),
    none: t('Nothing has to be reported.'),
  })[order]
const STATES = (state: Known['reports'][number]['state']): string =>
  ({
    draft: t('a draft'),
    sent: t('waits to be accepted'),
    accepted: t('accepted'),
    partAccepted: t('accepted in part'),
    refused: t('refused'),
    withdrawn: t('taken back'),
  })[state]
function write(lineId: string, report?: Known['reports'][number]): void {
  clear()
  const left = props.known.lines.find(one => one.lineId === lineId)!.left
  Object.assign(form, {
    number: report?.number ?? '',
    quantity: report?.quantity ?? left,
    from: report?.from ?? session.today,
    to: report?.to ?? session.today,
    place: report?.place ?? '',
    note: report?.note ?? '',
  })
  files.value = report?.files ?? []
  people.value = (report?.people ?? []).map(one => ({ ...one }))
  writes.value = { lineId, reportId: report?.id ?? null, version: report?.version ?? 0 }
}
async function keep(send: boolean): Promise<void> {
  const { lineId, reportId, version } = writes.value!
  const entry = {
    ...form,
    people: people.value.filter(one => one.name.trim() !== ''),
    fileIds: files.value.map(file => file.id),
  }
  if (!(await run(() => props.save({ lineId, reportId, version, send, entry })))) return
  writes.value = undefined
  emit('changed')
}
</script>

<template>
  <section class="section" data-test="work-reports">
    <h2>{{ t('Work') }}</h2>
    <div v-for="one in known.lines" :key="one.lineId" class="work">
      <p>
        {{ one.description }}
        <small
          >{{ t('{left} of {ceiling} left', { left: quantityText(one.left), ceiling: quantityText(one.ceiling) }) }}
          {{ unit(one.unit) }}. {{ ORDER(one.order) }}</small
        >
      </p>
      <ElButton
        v-if="one.order !== 'none' && one.left !== '0'"
        :data-test="`report-${one.position}`"
        @click="write(one.lineId)"
        >{{ t('Report work') }}</ElButton
      >
    </div>
    <p v-if="waiting.length > 1" class="bar">
      <ElButton data-test="accept-all" @click="emit('answer', waiting, 'accept')">{{
        t('Accept all {count}', { count: waiting.length })
      }}</ElButton>
    </p>
    <div v-for="one in known.reports" :key="one.id" class="report" :data-test="`report-of-${one.ours}`">
      <p>
        <b>{{ one.ours }}</b> {{ quantityText(one.quantity) }} {{ unit(one.unit) }},
        <span :class="{ 'tone-attention': one.state === 'sent', 'tone-stop': one.state === 'refused' }">{{
          STATES(one.state)
        }}</span><template v-if="one.state === 'partAccepted'">: {{ quantityText(one.accepted) }}</template
        ><small
          >{{
            [
              one.from === one.to ? day(one.from) : `${day(one.from)} – ${day(one.to)}`,
              one.place,
              one.number,
              one.people.map(person => person.name).join(', '),
              one.note,
            ]
              .filter(Boolean)
              .join(' · ')
          }}<template v-if="one.answerReason"> “{{ one.answerReason }}”</template
          ><template v-for="file in one.files" :key="file.id"
            >{{ ' ' }}<a :href="fileAt(file.id)" target="_blank">{{ file.name }}</a></template
          ></small
        >
      </p>
      <span class="acts"
        ><template v-if="one.mayAnswer"
          ><ElButton type="primary" :data-test="`accept-${one.ours}`" @click="emit('answer', [one], 'accept')">{{
            t('Accept')
          }}</ElButton
          ><ElButton :data-test="`refuse-${one.ours}`" @click="emit('answer', [one], 'refuse')">{{
            t('Refuse')
          }}</ElButton></template
        ><ElButton
          v-if="one.state === 'draft' || (one.state === 'refused' && supplier)"
          link
          :data-test="`again-${one.ours}`"
          @click="write(one.lineId, one)"
          >{{ one.state === 'draft' ? t('Write on') : t('Report it anew') }}</ElButton
        ></span
      >
    </div>
    <ElDialog
      v-if="writes && line"
      :model-value="true"
      :title="t('Report work')"
      width="620px"
      @close="writes = undefined"
    >
      <p class="quiet">{{ line.description }}. {{ ORDER(line.order) }}</p>
      <EntryForm :reasons="reasons" :busy="busy" columns @submit="keep(true)">
        <FormField :label="`${t('How much')}, ${unit(line.unit)}`" place="quantity"
          ><NumberField v-model="form.quantity" :label="t('How much')" data-test="report-quantity" /></FormField
        ><FormField :label="t('From')"><DayField v-model="form.from" :label="t('From')" /></FormField
        ><FormField :label="t('To')" place="to"><DayField v-model="form.to" :label="t('To')" /></FormField
        ><FormField :label="t('Your number')"><ElInput v-model="form.number" maxlength="40" /></FormField
        ><FormField :label="t('Place')"><ElInput v-model="form.place" /></FormField
        ><FormField :label="t('Note')"><ElInput v-model="form.note" data-test="report-note" /></FormField>
        <div class="people" data-place="people">
          <p v-for="(person, index) in people" :key="index" class="bar">
            <ElInput v-model="person.name" :placeholder="t('Who')" :aria-label="t('Who')" /><NumberField
              v-model="person.quantity"
              :label="t('How much')"
              width="110px"
            />
          </p>
          <ElButton link @click="people.push({ name: '', quantity: '' })">{{ t('Say who did how much') }}</ElButton>
        </div>
        <HungFiles v-model="files" :send="sendFile" :busy="busy" mark="report-files" />
        <template #acts
          ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="send-report">{{
            t('Hand it in')
          }}</ElButton
          ><ElButton :disabled="busy" @click="keep(false)">{{ t('Keep as a draft') }}</ElButton
          ><ElButton @click="writes = undefined">{{ t('Leave it') }}</ElButton></template
        >
      </EntryForm>
    </ElDialog>
  </section>
</template>

<style scoped>
.work,
.report {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 16px;
  border-top: 1px solid var(--rule);
  padding: 8px 0;
}
small {
  display: block;
  color: var(--ink-quiet);
}
.acts {
  white-space: nowrap;
}
.people {
  grid-column: 1 / -1;
}
.quiet {
  color: var(--ink-quiet);
}
@media (width <= 700px) {
  .work,
  .report {
    flex-wrap: wrap;
  }
}
</style>
