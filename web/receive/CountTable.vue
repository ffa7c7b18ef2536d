<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { isWork, type LineKind } from '#core/request/kinds.ts'
import { BECOMES } from '#core/receive/terms.ts'
import { useSession } from '#web/people/session.ts'
import GaugeBar from '#web/charts/GaugeBar.vue'
import DeliveryList from '#web/order/DeliveryList.vue'
import type { Counting, DeliveryLine } from '#web/receive/counting.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import { amountText, day, quantityText, unit } from '#web/shared/words.ts'

/** The lines of a delivery, each with a field for its count and a way to say more of it. */
const props = defineProps<{ lines: readonly DeliveryLine[]; counting: Counting }>()
const emit = defineEmits<{ detail: [DeliveryLine]; becomes: [DeliveryLine, (typeof BECOMES)[number]] }>()
const session = useSession()
const mine = computed(() => props.lines.some(line => line.mayProve))
const columns = computed(() =>
  lineColumns({
    '-^position': 'Position',
    line: 'Line',
    '#expected': 'Expected',
    '#^done': 'In so far',
    ...(mine.value ? { '#count': 'Count now' } : {}),
    '^gauge': 'How far it has come',
  }),
)
const more = (line: DeliveryLine): string =>
  props.counting
    .entriesOf(line)
    .filter(one => Number(one.quantity) > 0)
    .map(one =>
      [
        one.unit !== line.unit ? `${quantityText(one.quantity)} ${unit(one.unit)}` : '',
        one.batch && `batch ${one.batch}`,
        one.bin && `bin ${one.bin}`,
        one.condition === 'damaged' ? 'damaged' : '',
        one.serials.trim() ? 'with serial numbers' : '',
      ]
        .filter(Boolean)
        .join(', '),
    )
    .filter(Boolean)
    .join('; ')
const several = (line: DeliveryLine): boolean => props.counting.entriesOf(line).length > 1
</script>

<template>
  <LineTable class="section" :rows="lines" :columns="columns" label="Lines" :key-of="line => line.id"
    ><template #position="{ row: line }"
      ><span class="unit">{{ line.position }}</span></template
    >
    <template #line="{ row: line }"
      >{{ line.description
      }}<small>{{
        [
          line.itemNumber,
          line.address && `to ${line.address}`,
          line.terms.becomes !== 'counted' && !isWork(line.kind as LineKind)
            ? laterLabel('becomes', line.terms.becomes)
            : '',
          line.terms.inspect !== 'none' ? 'inspected' : '',
        ]
          .filter(Boolean)
          .join(', ')
      }}</small
      ><ElSelect
        v-if="session.may('proof.change') && line.kind === 'goods'"
        class="becomes"
        size="small"
        :model-value="line.terms.becomes"
        aria-label="What it becomes"
        :data-test="`becomes-${line.position}`"
        @update:model-value="emit('becomes', line, $event)"
        ><ElOption v-for="one in BECOMES" :key="one" :value="one" :label="laterLabel('becomes', one)" /></ElSelect
      ><DeliveryList :deliveries="line.schedule" :unit="line.unit" /><small
        v-if="line.schedule.length === 0 && (line.promisedDate || line.needBy)"
        >expected {{ day(line.promisedDate ?? line.needBy) }}</small
      ></template
    >
    <template #expected="{ row: line }"
      ><span v-if="line.ordered === null" class="unit">counted unseen</span
      ><template v-else
        >{{ quantityText(line.ordered) }} <span class="unit">{{ unit(line.unit) }}</span><small
          v-if="line.done !== '0'"
          class="only-phone"
          >{{ quantityText(line.done!) }} in</small
        ></template
      ></template
    >
    <template #done="{ row: line }">{{ line.done === null ? '' : quantityText(line.done) }}</template>
    <template #count="{ row: line }"
      ><span :data-place="`lines.${line.position}.quantity`"
        ><template v-if="line.mayProve"
          ><NumberField
            v-if="!several(line)"
            :model-value="counting.entriesOf(line)[0]?.quantity ?? ''"
            :label="`Count of ${line.description}`"
            width="110px"
            :data-test="`count-${line.position}`"
            @update:model-value="counting.set(line, $event)"
          /><b v-else>{{ quantityText(counting.countedOf(line) || '0') }}</b
          ><ElButton
            v-if="!isWork(line.kind as LineKind)"
            link
            class="more"
            :data-test="`more-${line.position}`"
            @click="emit('detail', line)"
            >{{ more(line) || 'batch, bin, serials …' }}</ElButton
          ></template
        ><small v-else>{{
          line.proof === 'none'
            ? 'nothing to prove'
            : isWork(line.kind as LineKind)
              ? 'the requester accepts it'
              : 'a receiver counts it'
        }}</small
        ><template v-if="line.mayProve"
          ><ElButton
            link
            v-for="one in line.instalments"
            :key="one.title"
            class="more"
            :data-test="`instalment-${line.position}`"
            @click="counting.set(line, one.amount)"
          >
            {{ one.title }}: {{ amountText(one.amount) }}
          </ElButton></template
        ></span
      ></template
    >
    <template #gauge="{ row: line }"><GaugeBar v-if="line.ordered !== null" :gauge="line.gauge" /></template
  ></LineTable>
</template>

<style scoped>
.becomes {
  display: block;
  width: 190px;
  margin-top: 4px;
}
.more {
  display: block;
  margin-left: auto;
  font-size: 12px;
  min-height: 24px;
  white-space: normal;
  text-align: right;
}
</style>
