<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { DropEventLine, type ReadEvent } from '#contract/source/events.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { useAction } from '#web/shared/useAction.ts'
import { day, priceText, quantityText, unit } from '#web/shared/words.ts'

/** What is asked, as everybody who is asked sees it; a line can be taken out while answers come in. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadEvent> }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const dropping = ref('')
const rows = computed(() =>
  props.sheet.body.lines.map((line, index) => ({ ...line, ...props.sheet.lineFacts[index]! })),
)
const droppable = computed(
  () => props.sheet.state === 'asking' && props.sheet.settings.format === 'quotes' && session.may('event.write'),
)
async function drop(reason: string): Promise<void> {
  const body = { version: props.sheet.version, lineId: dropping.value, reason }
  if (!(await run(() => api(DropEventLine, { params: { id: props.sheet.id }, body })))) return
  dropping.value = ''
  emit('changed')
}
</script>

<template>
  <section class="section">
    <h2>What is asked</h2>
    <p v-if="sheet.body.message" class="said">“{{ sheet.body.message }}”</p>
    <LineTable
      :rows="rows"
      :columns="
        lineColumns({
          '~position': '',
          what: 'What',
          '#quantity': 'Asked for',
          '^needBy': 'Needed by',
          '^request': 'From',
          '#reference': `Reference, ${sheet.body.currency}`,
          '-acts': 'Acts',
        })
      "
      label="Lines"
      :key-of="line => line.id"
      :off="line => line.gone"
      ><template #position="{ row: line }">{{ line.position }}</template>
      <template #what="{ row: line }"
        >{{ line.description }}<small v-if="line.gone">taken out</small
        ><small v-else-if="line.place || line.incoterm">{{
          [line.place, line.incoterm, line.incotermPlace].filter(Boolean).join(', ')
        }}</small></template
      >
      <template #quantity="{ row: line }"
        >{{ quantityText(line.quantity) }} <span class="unit">{{ unit(line.unit) }}</span></template
      >
      <template #needBy="{ row: line }">{{ line.needBy ? day(line.needBy) : '' }}</template>
      <template #request="{ row: line }">{{ line.request ?? '' }}</template>
      <template #reference="{ row: line }"
        >{{ line.reference ? priceText(line.reference) : '–'
        }}<small v-if="line.referenceFrom">{{
          line.referenceFrom === 'lastPaid' ? 'last paid' : 'estimate'
        }}</small></template
      >
      <template #acts="{ row: line }"
        ><ElButton
          v-if="droppable && !line.gone"
          link
          data-test="drop-line"
          @click="
            () => {
              clear()
              dropping = line.id
            }
          "
          >take out</ElButton
        ></template
      ></LineTable
    >
  </section>
  <ActDialog
    v-if="dropping !== ''"
    open
    title="Take the line out"
    what="It is not asked any more; everybody is told. Answers to it are kept and marked."
    button="Take it out"
    :busy="busy"
    :reasons="reasons"
    @close="dropping = ''"
    @go="drop"
  />
</template>

<style scoped>
.said {
  font-style: italic;
  margin: 4px 0 8px;
}
</style>
