<script setup lang="ts">
import { ElButton } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { AnswerPowerChange, ListPowerChanges, type PowerChange } from '#contract/setup/people.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label, since } from '#web/shared/words.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** Power over money that somebody wants to give, and that a second person has still to agree to. */
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const changes = shallowRef<readonly PowerChange[]>([])
const asked = ref<{ change: PowerChange; answer: 'agree' | 'refuse' | 'withdraw' }>()
const WHAT = {
  roles: 'Roles',
  role: 'What a role allows',
  rules: 'Rules of decisions, version',
  limits: 'Limits of',
  holder: 'Holder of the cost centre',
} as const
const BUTTON = { agree: 'Agree', refuse: 'Refuse', withdraw: 'Take it back' } as const

async function load(): Promise<void> {
  if (session.may('setup.agree')) changes.value = (await api(ListPowerChanges)).changes
}
onMounted(load)
defineExpose({ load })

/** A role with its cost centre, in the words that people use for it. */
const gives = (change: PowerChange): string =>
  change.gives
    .filter(Boolean)
    .map(one => {
      if (change.what === 'role') return laterLabel('permission', one)
      if (change.what !== 'roles') return one
      const [role = '', centre] = one.split('@')
      return label('role', role) + (centre ? ` for ${centre}` : '')
    })
    .join(', ') || 'switched off'
function ask(change: PowerChange, answer: 'agree' | 'refuse' | 'withdraw'): void {
  clear()
  asked.value = { change, answer }
}
async function answer(reason: string): Promise<void> {
  const { change, answer: said } = asked.value!
  const body = { version: change.version, answer: said, reason }
  if (!(await run(() => api(AnswerPowerChange, { params: { id: change.id }, body })))) return
  asked.value = undefined
  await load()
  emit('changed')
}
</script>

<template>
  <section v-if="changes.length" class="section" data-test="power">
    <h2>Waits for a second person</h2>
    <p class="quiet">Who gives power over money needs somebody else to agree; nobody gives it to themselves.</p>
    <LineTable
      :rows="changes"
      :columns="lineColumns({ about: 'About', gives: 'Gives', askedBy: 'Asked by', acts: '' })"
      label="What waits for a second person"
      :key-of="one => one.id"
      ><template #about="{ row: one }">
        {{ one.name }}<small>{{ WHAT[one.what] }}</small>
      </template>
      <template #gives="{ row: one }">{{ gives(one) }}</template>
      <template #askedBy="{ row: one }">
        {{ one.askedBy }}<small>{{ since(one.askedAt) }}</small>
      </template>
      <template #acts="{ row: one }"
        ><div class="bar">
          <template v-if="one.mayAnswer"
            ><ElButton type="primary" size="small" data-test="power-agree" @click="ask(one, 'agree')">Agree</ElButton
            ><ElButton size="small" @click="ask(one, 'refuse')">Refuse</ElButton></template
          ><ElButton v-else-if="one.mine" size="small" @click="ask(one, 'withdraw')">Take it back</ElButton>
        </div></template
      ></LineTable
    >
    <ActDialog
      v-if="asked"
      :open="true"
      :title="BUTTON[asked.answer]"
      :what="`${asked.change.name}: ${gives(asked.change)}.`"
      :button="BUTTON[asked.answer]"
      :busy="busy"
      :reasons="reasons"
      :optional="asked.answer !== 'refuse'"
      @close="asked = undefined"
      @go="answer"
    />
  </section>
</template>

<style scoped>
.bar {
  flex-wrap: nowrap;
}
</style>
