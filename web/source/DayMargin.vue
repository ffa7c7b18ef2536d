<script setup lang="ts">
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadDay } from '#contract/source/day.ts'
import type { ReadEvent } from '#contract/source/events.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { amountText, label, stamp } from '#web/shared/words.ts'
import EventCorrespondence from '#web/source/EventCorrespondence.vue'

/** Beside the Day: the correspondence, what bidders see, and what happened. */
type Day = ResponseOf<typeof ReadDay>
defineProps<{ sheet: ResponseOf<typeof ReadEvent>; day: Day; lot: Day['lots'][number] }>()
const emit = defineEmits<{ changed: [] }>()
const yes = (is: boolean): string => (is ? 'yes' : 'no')
const minutes = (seconds: number): string => `${Math.round(seconds / 60)} min`
</script>

<template>
  <aside class="margin" aria-label="Margin">
    <EventCorrespondence :sheet="sheet" @changed="emit('changed')" />
    <h3>What bidders see</h3>
    <dl>
      <dt>their own place</dt>
      <dd>{{ yes(lot.shows.place) }}</dd>
      <dt>the best price</dt>
      <dd>{{ yes(lot.shows.best) }}</dd>
      <dt>how many bid</dt>
      <dd>{{ yes(lot.shows.bidders) }}</dd>
      <dt>smallest step</dt>
      <dd>
        {{
          lot.step.kind === 'none'
            ? 'any'
            : lot.step.kind === 'percent'
              ? `${lot.step.value} %`
              : `${day.currency} ${lot.step.value}`
        }}
      </dd>
      <dt>no bid above</dt>
      <dd>{{ lot.ceiling ? `${day.currency} ${lot.ceiling}` : 'no limit' }}</dd>
      <dt>moves the end</dt>
      <dd>
        {{
          lot.extension
            ? `${lot.extension.places === 1 ? 'lead' : 'any place'} changes in last ${minutes(lot.extension.withinSeconds)}`
            : 'never'
        }}
      </dd>
      <template v-if="lot.extension"
        ><dt>moved so far</dt>
        <dd>{{ lot.extensions }}{{ lot.extension.most ? ` of ${lot.extension.most}` : '' }}</dd></template
      >
    </dl>
    <h3>Log</h3>
    <ol data-test="day-log">
      <li v-for="one in day.log" :key="one.sequence">
        <span class="quiet">{{ stamp(one.at) }}</span>
        <span
          >{{ one.forWhom ? `${one.forWhom}: ` : '' }}{{ label('history', one.action).toLowerCase()
          }}<template v-if="one.details.sealed">, sealed</template
          ><template v-if="typeof one.details.total === 'string'">{{ ' ' + amountText(one.details.total) }}</template
          ><template v-if="one.details.onBehalf">, entered by {{ one.actor }}</template
          ><template v-if="one.reason"> “{{ one.reason }}”</template
          ><small v-if="one.lot && day.lots.length > 1">{{ one.lot }}</small></span
        >
      </li>
    </ol>
    <p class="quiet">{{ laterLabel('criterion', 'price') }}: lower is better; of equal bids the earlier one leads.</p>
  </aside>
</template>

<style scoped>
.margin {
  border-left: 1px solid var(--rule);
  padding: 18px 18px 40px;
  font-size: 12.5px;
}
h3 {
  margin: 18px 0 6px;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 3px 10px;
  margin: 0;
}
dt {
  color: var(--ink-quiet);
}
dd {
  margin: 0;
  text-align: right;
}
ol {
  list-style: none;
  padding: 0;
  margin: 0;
}
li {
  display: grid;
  grid-template-columns: 92px 1fr;
  gap: 8px;
  padding: 2px 0;
}
small {
  display: block;
  color: var(--ink-quiet);
}
</style>
