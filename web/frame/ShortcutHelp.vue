<script setup lang="ts">
import { ElDialog } from 'element-plus'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { useShortcuts } from '#web/shared/useShortcuts.ts'
import { STAGES } from '#web/frame/stages.ts'

const router = useRouter()
const open = ref(false)
const KEYS: readonly [string, string][] = [
  ['Ctrl K', 'find or do'],
  ['Alt 1 … 7', 'the stages, from Source to Pay'],
  ['Alt 0', 'the Desk'],
  ['j k or arrows', 'next and previous in a list'],
  ['Enter', 'open'],
  ['Esc', 'back to the list'],
  ['Ctrl Enter', 'the first action of the Sheet'],
  ['Space, Shift, Ctrl A', 'choose rows of a wide list'],
  ['Ctrl C', 'copy them as a table'],
  ['Alt ← →', 'move the column whose head one stands on'],
  ['P', 'on the Desk: put off until tomorrow'],
  ['C, I', 'on the Desk: chase or issue all of a group'],
  ['A, B, R, Q', 'in Decide: approve, send back, reject, ask'],
  ['L', 'in Decide: the lines'],
  ['?', 'this list'],
]
const COLUMNS = lineColumns({ keys: 'Keys', what: 'What they do' })

useShortcuts(
  {
    'ctrl+Enter': event => {
      document.querySelector<HTMLButtonElement>('[data-primary]:not(:disabled)')?.click()
      event.preventDefault()
    },
    ...Object.fromEntries(
      ['/desk', ...STAGES.map(stage => stage.path)].map((path, index) => [
        `alt+${index}`,
        (event: KeyboardEvent) => {
          event.preventDefault()
          void router.push(path)
        },
      ]),
    ),
    '?': () => {
      open.value = true
    },
  },
  ['ctrl+Enter', ...Array.from({ length: 8 }, (_, index) => `alt+${index}`)],
)
</script>

<template>
  <ElDialog v-model="open" title="Keys" width="440px">
    <LineTable :rows="KEYS" :columns="COLUMNS" label="Keys" bare :key-of="([keys]) => keys">
      <template #keys="{ row: [keys] }"
        ><kbd>{{ keys }}</kbd></template
      >
      <template #what="{ row: [, what] }">{{ what }}</template>
    </LineTable>
    <h3 class="grammar">A line as you would say it</h3>
    <p>
      Quantity and item, and in any order: <b>to</b> a place, <b>by</b> a day, <b>on</b> an account, <b>#</b>project,
      <b>from</b> a supplier, <b>at</b> a price.
    </p>
    <p class="quiet">
      12 boxes of paper to the main store by 4 Dec on AB-100/6020<br />50 kg of flour by next Friday<br />8 filters from
      Miller at 30600 JPY #HALL-2
    </p>
  </ElDialog>
</template>

<style scoped>
.grammar {
  margin: 16px 0 4px;
}
</style>
