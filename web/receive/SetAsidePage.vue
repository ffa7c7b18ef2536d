<script setup lang="ts">
import '#contract/messages/receiving.ts'
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { EndSetAside, ReadSetAside } from '#contract/receive/setAside.ts'
import { api } from '#web/api.ts'
import WorkPage from '#web/frame/WorkPage.vue'
import LinkAsideDialog from '#web/receive/LinkAsideDialog.vue'
import SetAsideDialog from '#web/receive/SetAsideDialog.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { label, quantityText, since, unit } from '#web/shared/words.ts'

/** What came and nobody ordered, as far as the dock could see: linked to the line that it belongs to, given back, or settled otherwise. */
type Row = ResponseOf<typeof ReadSetAside>['rows'][number]
const { data, reload } = useRead(ReadSetAside)
const { busy, reasons, run, clear } = useAction()
const writes = ref(false)
const links = ref<Row>()
const ends = ref<{ row: Row; how: 'giveBack' | 'settle' }>()
async function end(reason: string): Promise<void> {
  const { row, how } = ends.value!
  if (!(await run(() => api(EndSetAside, { params: { id: row.id }, body: { version: row.version, how, reason } }))))
    return
  ends.value = undefined
  await reload()
}
async function done(): Promise<void> {
  writes.value = false
  links.value = undefined
  await reload()
}
const ask = (row: Row, how: 'giveBack' | 'settle'): void => {
  clear()
  ends.value = { row, how }
}
</script>

<template>
  <WorkPage :margin="0"
    ><h1>Not ordered</h1>
    <p v-if="data?.maySetAside">
      <ElButton type="primary" data-test="set-aside" @click="writes = true">Put something aside</ElButton>
    </p>
    <p v-if="data && data.rows.length === 0">Nothing lies here that nobody ordered.</p>
    <LineTable
      v-else-if="data"
      :rows="data.rows"
      :columns="lineColumns({ what: 'What', where: 'Where', note: 'Known of it', state: 'State', '-acts': 'Do' })"
      label="Not ordered"
      :key-of="row => row.id"
      ><template #what="{ row }"
        ><b>{{ row.number }}</b> {{ quantityText(row.quantity) }} {{ unit(row.unit) }} {{ row.description
        }}<small>{{ row.by }}, {{ since(row.at) }}</small></template
      ><template #where="{ row }">{{ row.place }}</template
      ><template #note="{ row }"
        >{{ [row.supplier, row.marks].filter(Boolean).join(', ')
        }}<small>{{ row.note }}{{ row.buyer ? ` For ${row.buyer}.` : '' }}</small></template
      ><template #state="{ row }"
        >{{ label('state', row.state)
        }}<small
          ><RouterLink v-if="row.path" :to="row.path">{{ row.outcome }}</RouterLink
          ><template v-else>{{ row.outcome }}</template></small
        ></template
      ><template #acts="{ row }"
        ><span v-if="data.maySay && row.state === 'waiting'" class="ways"
          ><ElButton link data-test="link-aside" @click="links = row">It belongs to an order</ElButton
          ><ElButton link data-test="give-back" @click="ask(row, 'giveBack')">It went back</ElButton
          ><ElButton link data-test="settle-aside" @click="ask(row, 'settle')">Settled otherwise</ElButton></span
        ></template
      ></LineTable
    >
    <SetAsideDialog v-if="writes && data" :choices="data" @close="writes = false" @done="done" />
    <LinkAsideDialog v-if="links" :row="links" @close="links = undefined" @done="done" />
    <ActDialog
      v-if="ends"
      :open="true"
      :title="ends.how === 'giveBack' ? 'It went back' : 'It is settled otherwise'"
      what="It is no longer here and nobody waits for it. Your words stay with it."
      :button="ends.how === 'giveBack' ? 'It went back' : 'It is settled'"
      :busy="busy"
      :reasons="reasons"
      @close="ends = undefined"
      @go="end"
    />
  </WorkPage>
</template>

<style scoped>
.ways {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px 14px;
}
.ways :deep(.el-button) {
  margin: 0;
}
small {
  display: block;
  color: var(--ink-quiet);
}
</style>
