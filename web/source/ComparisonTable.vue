<script setup lang="ts">
import { ElButton, ElPopover } from 'element-plus'
import { ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { CompareEvent } from '#contract/source/comparing.ts'
import { roundedText } from '#core/money/text.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { useRowsInSight } from '#web/shared/table/useRowsInSight.ts'
import { amountText, priceText, quantityText, unit } from '#web/shared/words.ts'
import LandedParts from '#web/source/LandedParts.vue'
import type { AwardChoice } from '#web/source/useAward.ts'

/** Lines × suppliers: heading and first column stay where they are; only the lines in sight are drawn. */
type Comparison = ResponseOf<typeof CompareEvent>
const props = defineProps<{
  eventId: string
  comparison: Comparison
  rows: Comparison['lines']
  award: AwardChoice
  awarding: boolean
}>()
const scroller = ref<HTMLElement>()
const HEIGHT = 64
const { shown, before, after } = useRowsInSight(scroller, () => props.rows, HEIGHT)
type Cell = NonNullable<Comparison['lines'][number]['cells'][number]>
/** Against the reference, in per cent: below it is what one hopes for. */
const under = (cell: Cell, reference: string): string => {
  if (!reference || !cell.landed) return ''
  const per = (1 - Number(cell.landed) / Number(reference)) * 100
  return `${per >= 0 ? '−' : '+'}${Math.abs(per).toFixed(1)} %`
}
/** Cents say enough of what costs more than a few euros; how it comes about says all. */
const FEW = 10
const unitCost = (text: string): string => (Number(text) < FEW ? priceText(text) : priceText(roundedText(text, 2)))
const partly = (lineId: string, quantity: string): string => {
  const given = props.award.given(lineId)
  return given === '0' || given === quantity ? '' : `${quantityText(given)} of ${quantityText(quantity)}`
}
</script>

<template>
  <div ref="scroller" class="scroll" tabindex="0" role="region" aria-label="Comparison" data-test="comparison">
    <table>
      <thead>
        <tr>
          <th scope="col" class="first">Line</th>
          <th
            v-for="one in comparison.suppliers"
            :key="one.supplierId"
            scope="col"
            class="num"
            :class="{ off: one.own === null }"
          >
            {{ one.name
            }}<small
              >{{ one.asked ? laterLabel('invited', one.standing) : 'known prices, not asked'
              }}{{ one.onBehalf ? ', on behalf' : ''
              }}<span v-if="one.knockedOut" class="tone-stop">, knocked out</span></small
            ><ElButton
              v-if="awarding && one.own !== null && !one.knockedOut && one.standing === 'answered'"
              link
              size="small"
              :data-test="`all-to-${one.name}`"
              @click="award.allTo(one.supplierId)"
              >all to it</ElButton
            >
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="before" aria-hidden="true">
          <td :style="{ height: `${before}px` }" :colspan="comparison.suppliers.length + 1" />
        </tr>
        <tr v-for="{ row: line } in shown" :key="line.id" :data-test="`line-${line.position}`">
          <th scope="row" class="first">
            {{ line.position }} {{ line.description
            }}<small
              >{{ quantityText(line.quantity) }} {{ unit(line.unit) }}{{ line.lot ? `, ${line.lot}` : ''
              }}{{ line.reference ? `, reference ${priceText(line.reference)}` : '' }}</small
            ><small v-if="line.spread">{{ line.spread }} % between them</small
            ><small v-if="awarding && partly(line.id, line.quantity)" class="tone-attention"
              >given: {{ partly(line.id, line.quantity) }}</small
            >
          </th>
          <td
            v-for="(cell, index) in line.cells"
            :key="comparison.suppliers[index]!.supplierId"
            class="num"
            :class="{ best: cell?.best, given: award.of(line.id, comparison.suppliers[index]!.supplierId) !== '' }"
          >
            <template v-if="cell && cell.price !== ''"
              ><ElPopover trigger="click" :width="300" :persistent="false"
                ><template #reference
                  ><ElButton link class="figure" :data-test="`landed-${line.position}-${index}`"
                    ><b>{{ cell.landed ? unitCost(cell.landed) : 'no rate' }}</b></ElButton
                  ></template
                ><LandedParts
                  :event-id="eventId"
                  :line-id="line.id"
                  :cell="cell"
                  :supplier="comparison.suppliers[index]!"
                  :currency="comparison.currency" /></ElPopover
              ><span v-if="cell.best" class="mark">best</span
              ><small
                >{{ priceText(cell.price) }} {{ comparison.suppliers[index]!.currency
                }}{{ cell.priceBase === '1' ? '' : ` for ${quantityText(cell.priceBase)}`
                }}{{ under(cell, line.reference) ? `, ${under(cell, line.reference)}` : '' }}</small
              ><small v-if="cell.part" class="tone-attention">only {{ quantityText(cell.quantity) }}</small
              ><small
                v-if="awarding && cell.landed && comparison.suppliers[index]!.standing === 'answered'"
                class="choose"
                ><ElButton
                  link
                  size="small"
                  :data-test="`give-${line.position}-${index}`"
                  @click="award.toggle(line.id, comparison.suppliers[index]!.supplierId)"
                  >{{
                    award.of(line.id, comparison.suppliers[index]!.supplierId)
                      ? `gets ${quantityText(award.of(line.id, comparison.suppliers[index]!.supplierId))}`
                      : 'give'
                  }}</ElButton
                ><ElButton
                  v-if="award.given(line.id) !== '0' && !award.of(line.id, comparison.suppliers[index]!.supplierId)"
                  link
                  size="small"
                  :data-test="`share-${line.position}-${index}`"
                  @click="award.share(line.id, comparison.suppliers[index]!.supplierId)"
                  >share</ElButton
                ></small
              ></template
            ><span v-else-if="!cell?.alternatives.length" class="quiet">–</span
            ><small v-for="one in cell?.alternatives" :key="one.description" class="other"
              >instead: {{ one.description }}, {{ priceText(one.price) }}</small
            >
          </td>
        </tr>
        <tr v-if="after" aria-hidden="true">
          <td :style="{ height: `${after}px` }" :colspan="comparison.suppliers.length + 1" />
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <th scope="row" class="first">
            All that it has<small>landed, {{ comparison.currency }}</small>
          </th>
          <td v-for="one in comparison.suppliers" :key="one.supplierId" class="num">
            <template v-if="one.own !== null"
              >{{ amountText(one.own)
              }}<small
                >{{ one.lines }} {{ one.lines === 1 ? 'line' : 'lines'
                }}{{ one.reference ? `, reference ${amountText(one.reference)}` : '' }}</small
              ></template
            >
          </td>
        </tr>
        <tr>
          <th scope="row" class="first">
            Lines that all have<small>{{ comparison.common }}</small>
          </th>
          <td v-for="one in comparison.suppliers" :key="one.supplierId" class="num">
            <b>{{ one.common === null ? '–' : amountText(one.common) }}</b>
          </td>
        </tr>
      </tfoot>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow: auto;
  max-height: calc(100vh - 240px);
  border: 1px solid var(--rule);
}
table {
  border-collapse: separate;
  border-spacing: 0;
  min-width: 100%;
}
th,
td {
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule-light);
  background: var(--sheet);
  vertical-align: top;
  min-width: 132px;
}
thead th {
  position: sticky;
  top: 0;
  z-index: 2;
  border-bottom: 1px solid var(--ink);
  font: 600 12px var(--sans);
  white-space: normal;
}
.first {
  position: sticky;
  left: 0;
  z-index: 1;
  text-align: left;
  min-width: 230px;
  max-width: 270px;
  font-weight: 500;
  border-right: 1px solid var(--rule);
}
thead .first {
  z-index: 3;
}
tfoot th,
tfoot td {
  position: sticky;
  bottom: 0;
  border-top: 1px solid var(--ink);
}
tfoot tr:first-child th,
tfoot tr:first-child td {
  bottom: 45px;
}
small {
  display: block;
  color: var(--ink-quiet);
  font: 11.5px var(--sans);
}
small.tone-attention {
  color: var(--brass);
}
.best {
  box-shadow: inset 3px 0 0 var(--kelp);
}
.mark {
  color: var(--kelp);
  font-size: 11px;
  margin-left: 5px;
}
.given {
  background: var(--tide-light);
}
.figure {
  color: inherit;
}
.off {
  color: var(--ink-quiet);
}
.choose {
  display: flex;
  justify-content: flex-end;
  gap: 6px;
}
.other {
  max-width: 160px;
  white-space: normal;
  margin-left: auto;
}
</style>
