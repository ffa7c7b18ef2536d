<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus'
import { ref, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ComputeSignals, type ReadSupplier, ReadSignal } from '#contract/source/endpoints.ts'
import { api } from '#web/api.ts'
import TrendLine from '#web/charts/TrendLine.vue'
import { useAction } from '#web/shared/useAction.ts'
import { day, since } from '#web/shared/words.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** Figures that say whether a supplier can be relied on, each with its threshold, its trend and the entries behind it. */
type Signal = ResponseOf<typeof ReadSupplier>['signals'][number]
const props = defineProps<{ id: string; signals: readonly Signal[] }>()
const emit = defineEmits<{ changed: [] }>()
const { busy, run } = useAction()
const open = ref<Signal>()
const behind = shallowRef<ResponseOf<typeof ReadSignal>>()

const figure = (value: string | null, unit: string): string =>
  value === null ? '–' : unit === 'percent' ? `${value} %` : value
const wanted = (one: Signal): string =>
  `${one.direction === 'atLeast' ? 'at least' : 'at most'} ${figure(one.threshold, one.unit)}`
async function show(one: Signal): Promise<void> {
  open.value = one
  behind.value = undefined
  behind.value = await run(() => api(ReadSignal, { params: { id: props.id, key: one.key } }))
}
async function compute(): Promise<void> {
  if (await run(() => api(ComputeSignals, { params: { id: props.id } }))) emit('changed')
}
</script>

<template>
  <section class="section">
    <h2>
      Signals
      <ElButton link class="small" :disabled="busy" data-test="compute-signals" @click="compute"> compute now</ElButton
      ><span v-if="signals[0]" class="quiet small"> computed {{ since(signals[0].computedAt) }}</span>
    </h2>
    <p v-if="!signals.length" class="quiet">
      Nothing is known yet: signals come from orders, receipts and invoices, each night.
    </p>
    <LineTable
      class="signals"
      v-else
      :mark="one => `signal-${one.key}`"
      :rows="signals"
      :columns="
        lineColumns({
          '-sign': 'Good or bad',
          signal: 'Signal',
          '#figure': 'Figure',
          '~wanted': 'Wanted',
          trend: 'Six quarters',
          '#behind': 'Behind it',
        })
      "
      label="Signals"
      :key-of="one => one.key"
      ><template #sign="{ row: one }"
        ><span
          role="img"
          :class="one.tone === 'bad' ? 'tone-stop' : one.tone === 'good' ? 'tone-settled' : 'quiet'"
          :aria-label="
            one.tone === 'bad' ? 'on the wrong side' : one.tone === 'good' ? 'on the right side' : 'nothing known'
          "
          >{{ one.tone === 'bad' ? '▲' : one.tone === 'good' ? '✓' : '·' }}</span
        ></template
      >
      <template #signal="{ row: one }">{{ laterLabel('signal', one.key) }}</template>
      <template #figure="{ row: one }"
        ><b :class="one.tone === 'bad' ? 'tone-stop' : ''">{{ figure(one.figure, one.unit) }}</b></template
      >
      <template #wanted="{ row: one }">{{ wanted(one) }}</template>
      <template #trend="{ row: one }"
        ><TrendLine :points="one.trend" :threshold="one.threshold" :unit="one.unit"
      /></template>
      <template #behind="{ row: one }"
        ><ElButton link v-if="one.entries" @click="show(one)">{{ one.entries }}</ElButton
        ><span v-else class="quiet">none</span></template
      ></LineTable
    >
    <ElDialog
      :model-value="!!open"
      :title="open ? laterLabel('signal', open.key) : ''"
      width="620px"
      @close="open = undefined"
    >
      <p v-if="open">
        {{ figure(open.figure, open.unit) }} from {{ day(open.from) }} to {{ day(open.to) }}; wanted is
        {{ wanted(open) }}.
      </p>
      <div class="entries">
        <LineTable
          v-if="behind"
          :rows="behind.entries"
          :columns="lineColumns({ sign: 'Good or bad', day: 'Day', number: 'Document', value: 'Figure' })"
          label="What is behind it"
          bare
          ><template #sign="{ row: one }"
            ><span
              role="img"
              :class="one.good ? 'tone-settled' : 'tone-stop'"
              :aria-label="one.good ? 'good' : 'bad'"
              >{{ one.good ? '✓' : '▲' }}</span
            ></template
          >
          <template #day="{ row: one }">{{ day(one.on) }}</template>
          <template #number="{ row: one }"
            ><RouterLink v-if="one.path" :to="one.path">{{ one.number }}</RouterLink
            ><template v-else>{{ one.number }}</template></template
          >
          <template #value="{ row: one }"
            >{{ laterLabel('signal', one.value)
            }}{{ open?.unit === 'percent' && /^-?[\d.]+$/.test(one.value) ? ' %' : '' }}</template
          ></LineTable
        >
      </div>
      <p v-if="behind?.more" class="quiet">and {{ behind.more }} more</p>
      <template #footer><ElButton @click="open = undefined">Done</ElButton></template>
    </ElDialog>
  </section>
</template>

<style scoped>
.small {
  font: 400 12px var(--sans);
}
.signals td {
  vertical-align: middle;
  padding-top: 4px;
  padding-bottom: 4px;
}
.entries {
  max-height: 380px;
  overflow: auto;
  margin-top: 8px;
}
</style>
