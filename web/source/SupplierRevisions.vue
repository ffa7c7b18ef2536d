<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadSupplier } from '#contract/source/endpoints.ts'
import { useSession } from '#web/people/session.ts'
import { lineColumns } from '#web/shared/lineTable.ts'
import LineTable from '#web/shared/LineTable.vue'
import { since } from '#web/shared/words.ts'

/** What the supplier has changed about itself, and waits to be taken or refused. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadSupplier>; busy: boolean }>()
const emit = defineEmits<{ accept: [id: string]; refuse: [id: string] }>()
const session = useSession()
const waiting = computed(() => props.sheet.revisions.filter(one => one.state === 'waiting'))
const COLUMNS = lineColumns({ field: 'Field', '~now': 'Now', wanted: 'Wanted', '~by': 'By', '#acts': '' })
</script>

<template>
  <section v-if="waiting.length" class="section">
    <h2>Changed by the supplier</h2>
    <LineTable
      :rows="waiting"
      :columns="COLUMNS"
      label="Changed by the supplier"
      :key-of="one => one.id"
      :mark="one => `revision-${one.key}`"
    >
      <template #field="{ row: one }"
        ><b>{{ one.label }}</b
        ><small v-if="one.account" class="tone-attention">becomes an account to be checked</small></template
      >
      <template #now="{ row: one }"
        ><del v-if="one.before">{{ one.before }}</del
        ><template v-else>nothing</template></template
      >
      <template #wanted="{ row: one }">{{ one.after || 'nothing' }}</template>
      <template #by="{ row: one }">{{ one.by }}, {{ since(one.at) }}</template>
      <template #acts="{ row: one }"
        ><template v-if="session.may('supplier.write')"
          ><ElButton size="small" :disabled="busy" data-test="accept-revision" @click="emit('accept', one.id)"
            >Accept</ElButton
          >
          <ElButton link @click="emit('refuse', one.id)">refuse</ElButton></template
        ></template
      >
    </LineTable>
  </section>
</template>
