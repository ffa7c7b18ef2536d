<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { ResponseOf } from '#contract/endpoint.ts'
import { DropChange, type ReadOrder } from '#contract/order/endpoints.ts'
import { api } from '#web/api.ts'
import { useAction } from '#web/shared/useAction.ts'
import { since } from '#web/shared/words.ts'

/** A change that somebody is writing beside the order in force: to go on with, or to drop. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadOrder> }>()
const emit = defineEmits<{ goOn: []; dropped: [] }>()
const { busy, run } = useAction()
async function drop(): Promise<void> {
  if (await run(() => api(DropChange, { params: { id: props.sheet.id } }))) emit('dropped')
}
</script>

<template>
  <p v-if="sheet.keptChange" class="reasons note" data-test="kept-change">
    {{ sheet.keptChange.mine ? 'You are' : `${sheet.keptChange.by} is` }} writing a change,
    {{ since(sheet.keptChange.at)
    }}<template v-if="sheet.keptChange.revision !== sheet.revision"
      >, begun on revision {{ sheet.keptChange.revision }}</template
    >. <ElButton link :disabled="busy" data-test="go-on-change" @click="emit('goOn')">Go on with it</ElButton>
    <ElButton link :disabled="busy" data-test="drop-change" @click="drop">Drop it</ElButton>
  </p>
</template>
