<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { DraftFromAward } from '#contract/agreements/agreements.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadEvent } from '#contract/source/events.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, quantityText, unit } from '#web/shared/words.ts'

/** Who gets what, what it costs, and what followed from it. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadEvent> }>()
const session = useSession()
const router = useRouter()
const { busy, reasons, run } = useAction()
/** A draft for each supplier that gets something, at what it offered. */
async function agree(): Promise<void> {
  const body = { eventId: props.sheet.id, version: props.sheet.version }
  const done = await run(() => api(DraftFromAward, { body }))
  if (done?.made[0]) await router.push(`/source/agreements/${done.made[0].id}`)
}
const shares = computed(() =>
  (props.sheet.award?.shares ?? []).map(share => ({
    ...share,
    line: props.sheet.body.lines.find(one => one.id === share.lineId),
    supplier: props.sheet.invited.find(one => one.supplierId === share.supplierId)?.name ?? '',
  })),
)
</script>

<template>
  <section class="section" data-test="award">
    <h2>The award</h2>
    <template v-if="sheet.award">
      <p>
        <b>{{ amountText(sheet.award.cost) }}</b> <span class="unit">{{ sheet.body.currency }}</span> at landed
        cost<template v-if="sheet.award.above !== '0.00'"
          >, {{ amountText(sheet.award.above) }} above the cheapest</template
        ><template v-if="sheet.award.openLines"
          >; {{ sheet.award.openLines }} {{ sheet.award.openLines === 1 ? 'line stays' : 'lines stay' }} open</template
        >. <span v-if="sheet.award.reason" class="said">“{{ sheet.award.reason }}”</span>
      </p>
      <LineTable
        :rows="shares"
        :columns="lineColumns({ line: 'What', supplier: 'To', '#quantity': 'How many' })"
        label="Award"
        :key-of="one => `${one.lineId} ${one.supplierId}`"
        ><template #line="{ row: one }">{{ one.line?.description ?? '' }}</template>
        <template #supplier="{ row: one }">{{ one.supplier }}</template>
        <template #quantity="{ row: one }"
          >{{ quantityText(one.quantity) }} <span class="unit">{{ unit(one.line?.unit ?? '') }}</span></template
        ></LineTable
      >
    </template>
    <p v-if="sheet.state !== 'deciding' && sheet.award && session.may('agreement.write')" class="bar">
      <ElButton link :disabled="busy" data-test="draft-agreements" @click="agree">Draft agreements from it</ElButton>
    </p>
    <ReasonList :reasons="reasons" />
    <p v-if="sheet.orders.length" data-test="award-orders">
      Ordered:
      <template v-for="(one, index) in sheet.orders" :key="one.id"
        >{{ index ? ', ' : '' }}<RouterLink :to="one.path">{{ one.number }}</RouterLink> ({{ one.supplier }})</template
      >
    </p>
  </section>
</template>

<style scoped>
.said {
  font-style: italic;
}
</style>
