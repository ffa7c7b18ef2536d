<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import type { GaugeJson } from '#contract/fields.ts'
import { gaugeGeometry } from '#web/charts/gaugeGeometry.ts'
import EntriesDialog from '#web/charts/EntriesDialog.vue'
import { quantityText, unit } from '#web/shared/words.ts'
import { useSession } from '#web/people/session.ts'

const props = defineProps<{ gauge: GaugeJson }>()
const session = useSession()
const WIDTH = 150
const open = ref(false)
const shape = computed(() => gaugeGeometry(props.gauge, WIDTH))
const proven = computed(() =>
  Number(props.gauge.received) >= Number(props.gauge.accepted)
    ? ['in', props.gauge.received]
    : ['accepted', props.gauge.accepted],
)
const text = computed(() => {
  const { gauge } = props
  const of = (done: string, word: string): string =>
    Number(done) === 0 ? '' : Number(done) === Number(gauge.ordered) ? `all ${word}` : `${quantityText(done)} ${word}`
  const parts = [
    of(gauge.paid, 'paid') || of(gauge.billed, 'billed'),
    of(proven.value[1]!, proven.value[0]!),
    Number(gauge.billed) > 0 ? '' : of(gauge.confirmed, 'confirmed'),
  ].filter(Boolean)
  return parts.length > 0 ? parts.slice(0, 2).join(', ') : 'nothing yet'
})
const table = computed(
  () =>
    `${quantityText(props.gauge.ordered)} ${unit(props.gauge.unit)} ordered; ${props.gauge.confirmed} confirmed, ${proven.value[1]} ${proven.value[0]}, ${props.gauge.billed} billed, ${props.gauge.paid} paid`,
)
</script>

<template>
  <component
    :is="session.may('order.read') ? ElButton : 'span'"
    class="gauge"
    :link="session.may('order.read') || undefined"
    :title="table"
    :aria-label="table"
    @click="session.may('order.read') && (open = true)"
  >
    <svg :width="WIDTH + 6" height="16" aria-hidden="true">
      <rect y="3" :width="shape.confirmed" height="9" fill="#D5E4E2" />
      <rect y="3" :width="shape.proven" height="9" fill="#6FA3A6" />
      <rect v-if="shape.billed" y="6" :width="shape.billed" height="3" fill="#0E5A63" />
      <rect v-if="shape.paid" y="6" :width="shape.paid" height="3" fill="#3E6B33" />
      <rect
        x="0.5"
        y="3.5"
        :width="Math.max(0, shape.frame - 1)"
        height="8"
        fill="none"
        :stroke="Number(gauge.ordered) ? '#1B2431' : '#8b8b86'"
      />
      <rect
        v-if="shape.over > 0"
        :x="shape.frame"
        y="3.5"
        :width="shape.over"
        height="8"
        fill="none"
        stroke="#A8352A"
        stroke-dasharray="2 2"
      />
      <path
        v-if="shape.confirmed > 0 && shape.confirmed < shape.frame - 1"
        :d="`M${shape.confirmed} 0v15`"
        stroke="#8F6414"
        stroke-width="2"
      />
    </svg>
    <small>{{ text }}</small>
  </component>
  <EntriesDialog v-if="open" :line-id="gauge.lineId" :unit="gauge.unit" @close="open = false" />
</template>

<style scoped>
.gauge {
  display: block;
  color: inherit;
}
.gauge svg {
  display: block;
}
.gauge small {
  color: var(--ink-quiet);
  font-size: 11.5px;
}
button.gauge:hover {
  text-decoration: none;
}
button.gauge:hover small {
  text-decoration: underline;
}
</style>
