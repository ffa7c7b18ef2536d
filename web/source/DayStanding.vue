<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadDay } from '#contract/source/day.ts'
import { sumTexts } from '#core/money/text.ts'
import { useSession } from '#web/people/session.ts'
import { amountText } from '#web/shared/words.ts'

/** Who stands where, how far behind, who is here; a bid can be taken out. */
type Day = ResponseOf<typeof ReadDay>
const props = defineProps<{ day: Day; lot: Day['lots'][number] }>()
const emit = defineEmits<{ remove: [bidId: string]; changed: [] }>()
const session = useSession()
const best = computed(() => props.lot.standing[0]?.total)
const rows = computed(() =>
  props.day.suppliers
    .map(one => {
      const placed = props.lot.standing.find(other => other.supplierId === one.supplierId)
      const bids = props.lot.bids.filter(bid => bid.supplierId === one.supplierId)
      const counting = placed ? bids.filter(bid => !bid.out).at(-1) : undefined
      const behalf = bids.filter(bid => bid.onBehalf).length
      return { ...one, placed, counting, count: bids.length, behalf }
    })
    .sort((a, b) => (a.placed?.place ?? 999) - (b.placed?.place ?? 999) || a.name.localeCompare(b.name)),
)
const about = (one: (typeof rows.value)[number]): string =>
  [
    one.present ? 'here' : 'not here',
    one.count ? `${one.count} ${one.count === 1 ? 'bid' : 'bids'}` : one.accepted ? 'no bid' : 'terms not accepted',
    one.behalf ? `${one.behalf} entered on behalf` : '',
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <section data-test="standing">
    <h2>Standing</h2>
    <ol>
      <li v-for="one in rows" :key="one.supplierId" :data-test="`place-${one.placed?.place ?? 'none'}`">
        <span class="place">{{ one.placed?.place ?? '–' }}</span>
        <span class="who"
          >{{ one.name }}<small>{{ one.suspended ? `suspended: “${one.suspendReason}”` : about(one) }}</small></span
        >
        <span class="num"
          ><template v-if="one.placed"
            >{{ amountText(one.placed.total)
            }}<small>{{
              one.placed.place === 1 ? 'leads' : `+ ${amountText(sumTexts([one.placed.total, `-${best ?? '0'}`]))}`
            }}</small></template
          ><span v-else-if="one.suspended" class="tone-stop">suspended</span
          ><ElButton
            v-if="one.counting && session.may('event.write')"
            link
            size="small"
            :data-test="`remove-${one.name}`"
            @click="emit('remove', one.counting.id)"
            >take out</ElButton
          ></span
        >
      </li>
    </ol>
  </section>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 22px 1fr auto;
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
}
small {
  display: block;
  color: var(--ink-quiet);
  font-size: 11.5px;
}
.place {
  color: var(--tide);
  font-weight: 600;
}
</style>
