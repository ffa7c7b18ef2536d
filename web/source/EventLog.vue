<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import { EventLogFile, ReadEventLog } from '#contract/source/events.ts'
import { pathOf } from '#web/api.ts'
import { documentTopic } from '#web/news/news.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, label, stamp } from '#web/shared/words.ts'

/** Every act with who, for whom, when and from where; each entry follows the one before by its hash. */
const props = defineProps<{ eventId: string; version: number }>()
const open = ref(false)
const action = ref('')
const { data } = useRead(
  ReadEventLog,
  () => ({ params: { id: props.eventId }, query: action.value ? { action: action.value } : {} }),
  { topics: () => [documentTopic(props.eventId)], when: open, keep: true },
)
const entries = computed(() => data.value?.entries ?? [])
/** What an entry says, as far as it is for people. */
function said(details: Readonly<Record<string, unknown>>): string {
  if (details.sealed) return 'sealed until the end'
  const parts = [
    details.before && details.after ? `${stamp(String(details.before))} → ${stamp(String(details.after))}` : '',
    typeof details.total === 'string' ? amountText(details.total) : '',
    details.onBehalf ? 'on behalf' : '',
    typeof details.text === 'string' ? `“${details.text}”` : '',
    typeof details.line === 'string' ? details.line : '',
    typeof details.who === 'string' ? `asked for by ${details.who}` : '',
  ]
  return parts.filter(Boolean).join(', ')
}
</script>

<template>
  <section class="section" data-test="event-log">
    <h2>
      Log <ElButton link data-test="open-log" @click="open = !open">{{ open ? 'fold' : 'show' }}</ElButton>
    </h2>
    <template v-if="open">
      <p class="bar">
        <ElSelect v-model="action" clearable :value-on-clear="''" placeholder="all acts" aria-label="Acts" class="which"
          ><ElOption v-for="one in data?.actions" :key="one" :value="one" :label="label('history', one)" /></ElSelect
        ><a :href="pathOf(EventLogFile, { id: eventId })">as a file</a
        ><span v-if="data" :class="data.holds ? 'quiet' : 'tone-stop'">{{
          data.holds ? 'unbroken: every entry follows the one before' : 'broken: somebody changed it from outside'
        }}</span>
      </p>
      <LineTable
        :rows="entries"
        :columns="lineColumns({ '~at': 'When', act: 'What', who: 'Who', '^for': 'Supplier', '^~from': 'From' })"
        label="Log"
        :key-of="one => String(one.sequence)"
        ><template #at="{ row: one }">{{ stamp(one.at) }}</template>
        <template #act="{ row: one }"
          >{{ label('history', one.action) }}<template v-if="one.lot"> ({{ one.lot }})</template
          ><small>{{
            [said(one.details), one.reason ? `“${one.reason}”` : ''].filter(Boolean).join(' ')
          }}</small></template
        >
        <template #who="{ row: one }">{{ one.actor }}</template>
        <template #for="{ row: one }">{{ one.forWhom ?? '' }}</template>
        <template #from="{ row: one }">{{
          [label('channel', one.channel), one.network].filter(Boolean).join(', ')
        }}</template></LineTable
      >
    </template>
  </section>
</template>

<style scoped>
.which {
  width: 220px;
}
</style>
