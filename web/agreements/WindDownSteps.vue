<script setup lang="ts">
import { computed } from 'vue'
import type { Agreement } from '#web/agreements/agreementText.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { stamp, words } from '#web/shared/words.ts'

/** How far a wind-down is, step by step. */
const props = defineProps<{ sheet: Agreement }>()
const STATES = { todo: 'to do', done: 'done', person: 'waits for somebody' } as const
const WHAT = { order: 'Order', end: 'End by amendment', seal: 'Seal the agreement' } as const
const done = computed(() => props.sheet.windDown.filter(step => step.state === 'done').length)
</script>

<template>
  <section class="section" data-test="wind-down">
    <h2>
      Wind-down <small class="quiet">{{ done }} of {{ sheet.windDown.length }} steps are done</small>
    </h2>
    <LineTable
      :rows="sheet.windDown"
      :columns="lineColumns({ '!what': 'Step', state: 'State', '~at': 'When' })"
      label="Steps of the wind-down"
      :key-of="step => String(step.position)"
      ><template #what="{ row: step }"
        ><RouterLink v-if="step.kind === 'order'" :to="step.path">{{ WHAT[step.kind] }} {{ step.number }}</RouterLink
        ><template v-else>{{ WHAT[step.kind] }}</template></template
      ><template #state="{ row: step }"
        ><b :class="{ 'tone-settled': step.state === 'done', 'tone-attention': step.state === 'person' }">{{
          STATES[step.state]
        }}</b
        ><small v-for="reason in step.reasons" :key="reason.code" class="quiet block">{{
          words(reason)
        }}</small></template
      ><template #at="{ row: step }">{{ step.at ? stamp(step.at) : '' }}</template></LineTable
    >
  </section>
</template>

<style scoped>
.block {
  display: block;
}
</style>
