<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { DropEventKind, ListEventKinds, PublishEventKind, RetireEventKind } from '#contract/source/eventKinds.ts'
import { NEW_KIND } from '#core/source/eventKind.ts'
import { api } from '#web/api.ts'
import { kindTopic } from '#web/news/news.ts'
import { useSession } from '#web/people/session.ts'
import EventKindForm from '#web/setup/EventKindForm.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { label } from '#web/shared/words.ts'

/** Kinds of quote request and auction, in versions: an event keeps the one that it began with. */
type Kind = ResponseOf<typeof ListEventKinds>['kinds'][number]
const session = useSession()
const { data, reload } = useRead(ListEventKinds, {}, { topics: () => [kindTopic('eventKind')], keep: true })
const { busy, reasons, run, clear } = useAction()
const editing = ref<Omit<Kind, 'id' | 'number' | 'state' | 'used' | 'usedCount' | 'changedBy' | 'changedAt'>>()
const retiring = ref<Kind>()
const kinds = computed(() => data.value?.kinds ?? [])
const may = computed(() => session.may('setup.write'))
const draftOf = (kind: Kind): Kind | undefined =>
  kinds.value.find(one => one.code === kind.code && one.state === 'draft')

function edit(kind: Kind): void {
  clear()
  const from = draftOf(kind) ?? kind
  editing.value = {
    code: from.code,
    version: from.state === 'draft' ? from.version : 0,
    name: from.name,
    settings: structuredClone(from.settings),
    range: from.range,
    outside: from.outside,
  }
}
function begin(): void {
  clear()
  const range = { prefix: 'E-', digits: 0, next: '1001', last: '99999', shown: '' }
  const known = kinds.value.find(one => one.range.prefix === range.prefix)
  editing.value = {
    code: crypto.randomUUID(),
    version: 0,
    name: '',
    settings: structuredClone(NEW_KIND) as Kind['settings'],
    range: known?.range ?? range,
    outside: null,
  }
}
async function act(work: () => Promise<unknown>): Promise<void> {
  if ((await run(work)) === undefined) return
  retiring.value = undefined
  await reload()
}
const publish = (kind: Kind): Promise<void> =>
  act(() => api(PublishEventKind, { params: { id: kind.id }, body: { version: kind.version } }))
const drop = (kind: Kind): Promise<void> =>
  act(() => api(DropEventKind, { params: { id: kind.id }, body: { version: kind.version } }))
const retire = (reason: string): Promise<void> =>
  act(() =>
    api(RetireEventKind, { params: { id: retiring.value!.id }, body: { version: retiring.value!.version, reason } }),
  )
async function kept(): Promise<void> {
  editing.value = undefined
  await reload()
}
const about = ({ settings }: Kind): string =>
  [
    laterLabel('event format', settings.format),
    laterLabel('event price', settings.pricing),
    settings.sealed ? 'sealed' : '',
    settings.sections.length
      ? `${settings.sections.reduce((sum, one) => sum + one.questions.length, 0)} questions`
      : '',
    settings.terms.en ? 'with terms' : '',
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <section>
    <template v-if="!editing">
      <p>
        A kind says how suppliers are asked: by quotes or on a day, sealed or not, which price, which texts, questions
        and terms. An event keeps the version that it began with.
      </p>
      <ReasonList v-if="!retiring" :reasons="reasons" />
      <LineTable
        v-if="kinds.length"
        :rows="kinds"
        :columns="
          lineColumns({ name: 'Kind', state: 'State', '~next': 'Next number', '#used': 'Events', '-acts': 'Acts' })
        "
        label="Kinds of event"
        :key-of="one => one.id"
        :off="one => one.state === 'retired'"
        ><template #name="{ row: one }"
          >{{ one.name }} <span class="quiet">version {{ one.number }}</span
          ><small>{{ about(one) }}</small></template
        >
        <template #state="{ row: one }">{{ label('state', one.state) }}</template>
        <template #next="{ row: one }">{{ one.range.shown || 'used up' }}</template>
        <template #used="{ row: one }"
          >{{ one.usedCount }}<small v-if="one.used.length">{{ one.used.slice(0, 3).join(', ') }}</small></template
        >
        <template #acts="{ row: one }"
          ><span v-if="may" class="bar"
            ><ElButton v-if="one.state !== 'retired'" link :data-test="`edit-kind-${one.name}`" @click="edit(one)"
              >change</ElButton
            ><ElButton
              v-if="one.state === 'draft'"
              link
              :disabled="busy"
              :data-test="`publish-kind-${one.name}`"
              @click="publish(one)"
              >put to use</ElButton
            ><ElButton v-if="one.state === 'live'" link @click="retiring = one">give up</ElButton
            ><ElButton link :disabled="busy" :data-test="`drop-kind-${one.name}-${one.number}`" @click="drop(one)"
              >take away</ElButton
            ></span
          ></template
        ></LineTable
      >
      <p v-else-if="data" class="empty">There is none yet: suppliers are asked by a kind of event.</p>
      <p v-if="may" class="bar"><ElButton type="primary" data-test="new-kind" @click="begin">New kind</ElButton></p>
    </template>
    <EventKindForm v-else :kind="editing" @close="editing = undefined" @kept="kept" />
    <ActDialog
      :open="retiring !== undefined"
      title="Give the kind up"
      what="No new event begins with it. Those that are there go on."
      button="Give it up"
      :busy="busy"
      :reasons="reasons"
      @close="retiring = undefined"
      @go="retire"
    />
  </section>
</template>
