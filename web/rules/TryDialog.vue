<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus'
import { onMounted, reactive, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { type RuleSetJson, TryRules } from '#contract/rules/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, words } from '#web/shared/words.ts'

/** What a version would have done with the requests of a time, beside the rules in force: with the people and limits of today. */
const props = defineProps<{ set: RuleSetJson }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const { busy, reasons, run } = useAction()
const form = reactive({ fromDay: addDays(session.today, -90) as string | null, toDay: session.today as string | null })
const trial = shallowRef<ResponseOf<typeof TryRules>>()
async function go(): Promise<void> {
  const { fromDay, toDay } = form
  if (!fromDay || !toDay) return
  trial.value = await run(() => api(TryRules, { params: { id: props.set.id }, query: { fromDay, toDay } }))
}
onMounted(go)
const way = (turns: readonly (readonly string[])[]): string =>
  turns.map(group => group.join(' or ')).join(', then ') || 'nobody'
const more = (before: number, after: number): string => (after > before ? `+${after - before}` : `−${before - after}`)
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="`Version ${set.number}, tried on the past`"
    width="860px"
    top="4vh"
    @close="emit('close')"
  >
    <EntryForm :reasons="reasons" :busy="busy" class="time" columns @submit="go">
      <FormField label="Submitted from"><DayField v-model="form.fromDay" label="Submitted from" /></FormField>
      <FormField label="To"><DayField v-model="form.toDay" label="To" /></FormField>
      <template #acts><ElButton native-type="submit" :disabled="busy" data-test="try-go">Try it</ElButton></template>
    </EntryForm>
    <div v-if="trial" class="found" data-test="trial">
      <p>
        <b>{{ trial.others.length }} of {{ trial.tried }} requests</b> would have gone another way.
        <template v-if="trial.more">{{ trial.more }} more were submitted; the latest were tried.</template>
      </p>
      <p v-for="one in trial.undecided" :key="one.id" class="tone-stop">
        ▲ <RouterLink v-if="one.path" :to="one.path">{{ one.number }}</RouterLink><template v-else>{{
          one.number
        }}</template>
        {{ one.title }}: nobody would decide it.
      </p>
      <p v-for="one in trial.stuck" :key="one.number + one.rule" class="tone-stop">
        ▲ <RouterLink v-if="one.path" :to="one.path">{{ one.number }}</RouterLink><template v-else>{{
          one.number
        }}</template
        >:
        {{ words({ code: one.code, details: { rule: one.rule, costCentre: '' } }) }}
      </p>
      <p v-if="trial.idle.length" class="quiet">No request of the time meets: {{ trial.idle.join('; ') }}.</p>
      <template v-if="trial.others.length"
        ><h3>Another way</h3>
        <LineTable
          :rows="trial.others"
          :columns="lineColumns({ request: 'Request', '#amount': 'Amount', before: 'Now', after: 'Then' })"
          label="Requests that would have gone another way"
          :key-of="one => one.id"
          ><template #request="{ row: one }"
            ><RouterLink v-if="one.path" :to="one.path">{{ one.number }}</RouterLink
            ><template v-else>{{ one.number }}</template
            ><small>{{ one.title }}</small></template
          >
          <template #amount="{ row: one }">{{ one.amount === null ? '' : amountText(one.amount) }}</template>
          <template #before="{ row: one }">{{ way(one.before) }}</template>
          <template #after="{ row: one }">{{ way(one.after) }}</template></LineTable
        ></template
      >
      <template v-if="trial.people.length"
        ><h3>Decisions for each</h3>
        <LineTable
          :rows="trial.people"
          :columns="lineColumns({ name: 'Who', '#before': 'Now', '#after': 'Then', '#more': 'More or fewer' })"
          label="Decisions for each person"
          :key-of="one => one.name"
          ><template #name="{ row: one }">{{ one.name }}</template>
          <template #before="{ row: one }">{{ one.before }}</template>
          <template #after="{ row: one }">{{ one.after }}</template>
          <template #more="{ row: one }"
            ><b v-if="one.before !== one.after">{{ more(one.before, one.after) }}</b></template
          ></LineTable
        ></template
      >
      <template v-if="trial.overlaps.length"
        ><h3>Rules that ask for one decision together</h3>
        <p v-for="one in trial.overlaps" :key="one.rules.join()">
          {{ one.rules.join(' and ') }}: <b>{{ one.documents }}</b> {{ one.documents === 1 ? 'request' : 'requests' }}
        </p></template
      >
    </div>
  </ElDialog>
</template>

<style scoped>
.found {
  max-height: 62vh;
  overflow: auto;
  margin-top: 10px;
}
h3 {
  margin: 16px 0 6px;
}
</style>
