<script setup lang="ts">
import '#contract/messages/receiving.ts'
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { SettleAct, ToSettle } from '#contract/receive/handheld.ts'
import { api } from '#web/api.ts'
import WorkPage from '#web/frame/WorkPage.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { quantityText, since, unit, words } from '#web/shared/words.ts'

/** What handhelds counted and could not be taken as it stands: tried again as things are now, or let go with the reason. */
type Act = ResponseOf<typeof ToSettle>['acts'][number]
const { data, reload } = useRead(ToSettle)
const { busy, reasons, run, clear } = useAction()
const asked = ref<{ act: Act; how: 'again' | 'drop' }>()
function ask(act: Act, how: 'again' | 'drop'): void {
  clear()
  asked.value = { act, how }
}
async function go(reason: string): Promise<void> {
  const { act, how } = asked.value!
  if (!(await run(() => api(SettleAct, { params: { key: act.key }, body: { how, reason } })))) return
  asked.value = undefined
  await reload()
}
</script>

<template>
  <WorkPage :margin="0"
    ><h1>To settle</h1>
    <p v-if="data && data.acts.length === 0">Everything that handhelds sent was taken.</p>
    <LineTable
      v-else-if="data"
      :rows="data.acts"
      :columns="lineColumns({ what: 'Counted', who: 'By', why: 'Why it was not taken', '-acts': 'Do' })"
      label="To settle"
      :key-of="one => one.key"
      ><template #what="{ row: one }"
        >{{ quantityText(one.quantity) }} {{ unit(one.unit) }} {{ one.what
        }}<small
          ><RouterLink :to="one.path">{{ one.order }}</RouterLink></small
        ></template
      ><template #who="{ row: one }"
        >{{ one.by }}<small>{{ since(one.madeAt) }}</small></template
      ><template #why="{ row: one }">{{ one.reasons.map(reason => words(reason)).join(' ') }}</template
      ><template #acts="{ row: one }"
        ><template v-if="one.maySettle"
          ><ElButton link data-test="settle-again" @click="ask(one, 'again')">Try again</ElButton
          ><ElButton link data-test="settle-drop" @click="ask(one, 'drop')">Let it go</ElButton></template
        ></template
      ></LineTable
    >
    <ActDialog
      v-if="asked"
      :open="true"
      :title="asked.how === 'again' ? 'Count it as things are now' : 'It is not counted'"
      :what="
        asked.how === 'again'
          ? 'It is taken in your name, on the day on which it was counted.'
          : 'It stays in the list of what was let go, with your reason.'
      "
      :button="asked.how === 'again' ? 'Try again' : 'Let it go'"
      :busy="busy"
      :reasons="reasons"
      @close="asked = undefined"
      @go="go"
    />
  </WorkPage>
</template>

<style scoped>
small {
  display: block;
  color: var(--ink-quiet);
}
</style>
