<script setup lang="ts">
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadRequisition } from '#contract/request/endpoints.ts'
import { ALL_BOUGHT } from '#core/request/states.ts'
import { isIn } from '#core/states.ts'
import GaugeBar from '#web/charts/GaugeBar.vue'
import { amountText, day, label, priceText, quantityText, unit } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lastTimeWords } from '#web/decide/lastTimeWords.ts'
import { lineColumns } from '#web/shared/lineTable.ts'

/** The lines of a request that is on its way: what was asked, of which kind, on which terms, and how far it has come. */
type Line = ResponseOf<typeof ReadRequisition>['lines'][number]
const props = defineProps<{ sheet: ResponseOf<typeof ReadRequisition> }>()
const gone = (line: Line): boolean => line.state === 'cancelled'
/** Before it is decided no line has come anywhere: the room goes to what was asked. */
const underWay = computed(() => props.sheet.lines.some(line => line.state !== 'open' && !gone(line)))
const counted = (line: Line): boolean => line.kind === 'goods' || line.kind === 'workByRate'
const terms = (line: Line): string =>
  [
    line.kind === 'goods' ? '' : label('kind', line.kind),
    line.facts.term.incoterm &&
      `${line.facts.term.incoterm} ${line.facts.term.place} (${label('term from', line.facts.term.from)})`,
    line.facts.agreement && `agreement ${line.facts.agreement}`,
    line.facts.proof.from === 'kind' ? '' : label('proof', line.facts.proof.proof),
    line.routes.length === 1 && line.routes[0] === 'orderNow'
      ? ''
      : `may: ${line.routes.map(route => label('route', route)).join(', ')}`,
    line.routeReason && `“${line.routeReason}”`,
    line.details.expected && `expected ${line.details.expected} ${unit(line.unit)}`,
    line.details.person &&
      `for ${line.details.person.name}, ${laterLabel('tax status', line.details.person.taxStatus)}`,
    line.details.deliverable,
    lastTimeWords(line),
  ]
    .filter(Boolean)
    .join('; ')
</script>

<template>
  <LineTable
    class="section"
    :rows="sheet.lines"
    :columns="
      lineColumns({
        '-^position': 'Position',
        line: 'Line',
        '#quantity': 'Quantity',
        '#^price': 'Unit price',
        '#amount': `Amount, ${sheet.baseCurrency}`,
        ...(underWay ? { '^gauge': 'How far it has come' } : {}),
      })
    "
    label="Lines"
    :key-of="line => line.id"
    :off="line => !line.mine || gone(line)"
    :sums="[{ key: 'net', cells: { line: 'Net', amount: amountText(sheet.total) }, total: true }]"
    ><template #position="{ row: line }"
      ><span class="unit">{{ line.position }}</span></template
    >
    <template #line="{ row: line }"
      ><template v-if="line.confidential"
        >A personal fee<small>Only those concerned see whom it is for.</small></template
      ><template v-else
        ><component :is="gone(line) ? 'del' : 'span'">{{ line.description }}</component
        ><small v-if="gone(line)">{{ label('state', line.state) }}</small
        ><small>{{ [line.itemNumber, line.supplier].filter(Boolean).join(', ') }}</small></template
      ><small>{{ line.needBy ? `by ${day(line.needBy)}` : '' }}{{ line.address ? `, to ${line.address}` : '' }}</small
      ><small v-if="terms(line)">{{ terms(line) }}</small
      ><small v-for="one in line.details.instalments" :key="one.title"
        >{{ one.title }}: {{ amountText(one.amount) }} {{ line.currency
        }}{{ one.due ? `, ${day(one.due)}` : '' }}</small
      ></template
    >
    <template #quantity="{ row: line }"
      ><template v-if="counted(line)"
        >{{ quantityText(line.quantity) }} <span class="unit">{{ unit(line.unit) }}</span><small
          v-if="line.kind === 'workByRate'"
          >at most</small
        ></template
      ><span v-else class="unit">{{ line.kind === 'goodsByAmount' ? 'for at most' : 'fixed price' }}</span></template
    >
    <template #price="{ row: line }"
      ><template v-if="counted(line)"
        >{{ priceText(line.price) }}
        <span class="unit"
          >{{ line.currency }}{{ line.priceBase === '1' ? '' : ` / ${line.priceBase}` }}</span
        ></template
      ></template
    >
    <template #amount="{ row: line }"
      ><component :is="gone(line) ? 'del' : 'span'">{{ amountText(line.baseAmount) }}</component
      ><small v-if="line.currency !== sheet.baseCurrency"
        >{{ line.currency }} {{ amountText(line.amount) }}</small
      ></template
    >
    <template #gauge="{ row: line }"
      ><GaugeBar v-if="isIn(ALL_BOUGHT, line.state)" :gauge="{ ...line.gauge, ordered: line.quantity }" /><span
        class="quiet"
        >{{ line.state === 'open' || gone(line) ? '' : label('state', line.state)
        }}<template v-if="line.buyer && line.state === 'toBuy'">, {{ line.buyer }} buys it</template
        ><template v-if="line.orderNumber"
          >, <RouterLink v-if="line.orderPath" :to="line.orderPath">{{ line.orderNumber }}</RouterLink><template
            v-else
            >{{ line.orderNumber }}</template
          ></template
        ></span
      ></template
    ></LineTable
  >
</template>
