<script setup lang="ts">
import { PreviewWindDown } from '#contract/agreements/agreements.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { useRead } from '#web/shared/useRead.ts'
import { label, words } from '#web/shared/words.ts'

/** All that hangs on an agreement, and what a wind-down does with each. */
const props = defineProps<{ id: string }>()
const { data } = useRead(PreviewWindDown, { params: { id: props.id } })
const DEEDS = {
  seal: 'is sealed',
  closeAndSeal: 'is closed and sealed',
  cancel: 'is cancelled; what it was for is to be bought another way',
  person: 'stops there until somebody has done it',
  told: 'is told when it is submitted: it has to take something else',
  done: 'is done already',
} as const
</script>

<template>
  <LineTable
    v-if="data?.hanging.length"
    :rows="data.hanging"
    :columns="lineColumns({ '!what': 'What hangs on it', state: 'State', deed: 'What happens' })"
    label="What hangs on it"
    :key-of="one => one.id"
    :mark="one => `hangs-${one.number}`"
    ><template #what="{ row: one }"
      ><RouterLink :to="one.path">{{ label('kind', one.kind) }} {{ one.number }}</RouterLink>
      <small class="quiet">{{ one.title }}</small></template
    ><template #state="{ row: one }">{{ label('state', one.state) }}</template
    ><template #deed="{ row: one }"
      ><span :class="{ 'tone-attention': one.deed === 'person' }">{{ DEEDS[one.deed] }}</span
      ><small v-for="reason in one.reasons" :key="reason.code" class="quiet block">{{ words(reason) }}</small></template
    ></LineTable
  >
  <p v-else-if="data" class="empty">Nothing hangs on it.</p>
</template>

<style scoped>
.block {
  display: block;
}
</style>
