<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import {
  EventFile,
  EventPaper,
  LeaveOutInvited,
  type ReadEvent,
  RemindSuppliers,
  SuspendSupplier,
} from '#contract/source/events.ts'
import { api, pathOf } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import MenuPopover from '#web/shared/MenuPopover.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { day, since } from '#web/shared/words.ts'
import BehalfDialog from '#web/source/BehalfDialog.vue'
import InvitedDialog from '#web/source/InvitedDialog.vue'
import { proposalText } from '#web/source/proposalText.ts'
import ProposedSuppliers from '#web/source/ProposedSuppliers.vue'

/** Who is asked, why, and how far each has come. */
type Sheet = ResponseOf<typeof ReadEvent>
type Invited = Sheet['invited'][number]
const props = defineProps<{ sheet: Sheet }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const may = computed(() => session.may('event.write'))
const choosing = ref(false)
const changing = ref<Invited>()
const behalf = ref<Invited>()
const suspending = ref<Invited>()
const open = computed(() => props.sheet.state === 'draft' || props.sheet.state === 'asking')
const asking = computed(() => props.sheet.state === 'asking')
/** Nobody was asked: prices that were known are compared. */
const known = computed(() => !props.sheet.sentAt && !['draft', 'cancelled'].includes(props.sheet.state))

async function done(work: () => Promise<unknown>): Promise<void> {
  if ((await run(work)) !== undefined) emit('changed')
}
const leaveOut = (one: Invited): Promise<void> =>
  done(() =>
    api(LeaveOutInvited, { params: { id: props.sheet.id, invitedId: one.id }, body: { version: props.sheet.version } }),
  )
const remind = (one: Invited): Promise<void> =>
  done(() =>
    api(RemindSuppliers, {
      params: { id: props.sheet.id },
      body: { version: props.sheet.version, invitedIds: [one.id], note: '' },
    }),
  )
async function suspend(reason: string): Promise<void> {
  const one = suspending.value!
  const body = { version: props.sheet.version, lift: one.standing === 'suspended', reason }
  await done(() => api(SuspendSupplier, { params: { id: props.sheet.id, invitedId: one.id }, body }))
  if (reasons.value.length === 0) suspending.value = undefined
}
const tone = (one: Invited): string =>
  one.standing === 'answered'
    ? 'tone-settled'
    : one.standing === 'suspended' || one.standing === 'late'
      ? 'tone-stop'
      : ''
const waits = (one: Invited): boolean => ['sent', 'opened', 'accepted', 'means'].includes(one.standing)
</script>

<template>
  <section class="section" data-test="invited">
    <h2>{{ known ? 'Whose prices are known' : 'Who is asked' }}</h2>
    <ReasonList v-if="!suspending" :reasons="reasons" />
    <LineTable
      v-if="sheet.invited.length"
      :rows="sheet.invited"
      :columns="
        lineColumns({
          name: 'Supplier',
          standing: 'How far',
          '~contact': 'Written to',
          '^~why': 'Why',
          '-acts': 'Acts',
        })
      "
      label="Who is asked"
      :key-of="one => one.id"
      :mark="one => `invited-${one.name}`"
      ><template #name="{ row: one }"
        ><RouterLink :to="`/source/${one.supplierId}`">{{ one.name }}</RouterLink
        ><small v-if="one.ownNote">“{{ one.ownNote }}”</small
        ><small v-if="one.toDo" class="tone-attention">to do: {{ one.toDo }}</small></template
      >
      <template #standing="{ row: one }"
        ><span :class="tone(one)">{{
          known && one.standing === 'answered' ? 'price known' : laterLabel('invited', one.standing)
        }}</span
        ><small v-if="one.answeredAt"
          >{{ since(one.answeredAt) }}{{ one.revisions > 1 ? `, ${one.revisions} times` : '' }}</small
        ><small v-else-if="one.openedAt">opened {{ since(one.openedAt) }}</small
        ><small v-if="one.onBehalf" class="tone-attention">entered on behalf</small
        ><small v-if="one.declineReason">“{{ one.declineReason }}”</small
        ><small v-if="one.suspendReason">“{{ one.suspendReason }}”</small></template
      >
      <template #contact="{ row: one }"
        >{{ one.contactName || 'nobody named'
        }}<small>{{ one.email || 'no address' }}, {{ one.language }}, {{ one.currency }}</small
        ><small v-if="one.consent"
          >{{ one.consent.who }} asked {{ one.consent.by }} on {{ day(one.consent.on) }},
          {{ laterLabel('consent by', one.consent.how)
          }}<a
            v-if="one.consent.fileId"
            :href="pathOf(EventFile, { id: sheet.id, fileId: one.consent.fileId })"
            target="_blank"
          >
            file</a
          ></small
        ></template
      >
      <template #why="{ row: one }"
        ><span v-for="reason in one.why" :key="reason.code" class="why">{{ proposalText(reason) }}</span></template
      >
      <template #acts="{ row: one }"
        ><span class="bar acts"
          ><ElButton
            v-if="may && asking && one.sentAt && one.standing !== 'suspended'"
            link
            :data-test="`behalf-${one.name}`"
            @click="behalf = one"
            >enter on behalf</ElButton
          ><ElButton v-if="may && (sheet.state === 'draft' || one.standing === 'toSend')" link @click="leaveOut(one)"
            >leave out</ElButton
          ><MenuPopover v-if="may || one.sentAt" :width="190" placement="bottom-end"
            ><template #button><ElButton link :data-test="`more-${one.name}`">more</ElButton></template>
            <div class="menu">
              <ElButton v-if="may" link :data-test="`edit-${one.name}`" @click="changing = one"
                >change the contact</ElButton
              >
              <ElButton v-if="may && asking && waits(one)" link :disabled="busy" @click="remind(one)">remind</ElButton>
              <ElButton
                v-if="may && asking && one.sentAt"
                link
                :data-test="`suspend-${one.name}`"
                @click="
                  () => {
                    clear()
                    suspending = one
                  }
                "
                >{{ one.standing === 'suspended' ? 'let in again' : 'suspend' }}</ElButton
              >
              <a
                v-if="one.sentAt"
                :href="pathOf(EventPaper, { id: sheet.id }, { format: 'pdf', invitedId: one.id })"
                target="_blank"
                >form on paper</a
              >
              <a v-if="one.sentAt" :href="pathOf(EventPaper, { id: sheet.id }, { format: 'xml', invitedId: one.id })"
                >UBL</a
              >
            </div></MenuPopover
          ></span
        ></template
      ></LineTable
    >
    <p v-else class="empty">Nobody is asked yet. Suppliers are proposed by category, past orders and signals.</p>
    <p v-if="may && open" class="bar adding">
      <ElButton data-test="choose-suppliers" @click="choosing = true">Choose suppliers</ElButton>
    </p>
  </section>
  <ProposedSuppliers
    v-if="choosing"
    :sheet="sheet"
    @close="choosing = false"
    @done="
      () => {
        choosing = false
        emit('changed')
      }
    "
  />
  <InvitedDialog
    v-if="changing"
    :sheet="sheet"
    :invited="changing"
    @close="changing = undefined"
    @done="
      () => {
        changing = undefined
        emit('changed')
      }
    "
  />
  <BehalfDialog v-if="behalf" :sheet="sheet" :invited="behalf" @close="behalf = undefined" @changed="emit('changed')" />
  <ActDialog
    v-if="suspending"
    open
    :title="suspending?.standing === 'suspended' ? 'Let in again' : 'Suspend'"
    :what="
      suspending?.standing === 'suspended'
        ? `${suspending.name} can answer and bid again; its bids count again. It is told.`
        : `${suspending?.name} can read and write messages, but neither answer nor bid; its bids do not count. It is told, nobody else is.`
    "
    :button="suspending?.standing === 'suspended' ? 'Let it in again' : 'Suspend it'"
    :busy="busy"
    :reasons="reasons"
    @close="suspending = undefined"
    @go="suspend"
  />
</template>

<style scoped>
.why {
  display: block;
}
.acts {
  gap: 2px 8px;
}
.menu {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 4px;
}
.menu .el-button {
  margin: 0;
}
.adding {
  margin-top: 8px;
}
</style>
