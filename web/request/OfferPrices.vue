<script setup lang="ts">
import { ElDialog } from 'element-plus'
import type { OfferJson } from '#contract/request/catalogue.ts'
import { ReadPrices } from '#contract/request/keeping.ts'
import { useSession } from '#web/people/session.ts'
import { useRead } from '#web/shared/useRead.ts'
import { day, label, priceText, quantityText, since } from '#web/shared/words.ts'

/** Every price of an offer: those that were, the one in force, those to come; who said so, and why. */
const props = defineProps<{ offer: OfferJson }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const { data } = useRead(ReadPrices, { params: { id: props.offer.id } })
/** The latest that has begun is in force. */
const inForce = (index: number): boolean => data.value!.prices.findIndex(one => one.fromDay <= session.today) === index
</script>

<template>
  <ElDialog :model-value="true" :title="`Prices of ${offer.supplier}`" width="640px" @close="emit('close')">
    <table v-if="data" class="lines" data-test="price-history">
      <thead>
        <tr>
          <th>From</th>
          <th class="num">Price, {{ offer.currency }}</th>
          <th>Larger quantities</th>
          <th>Where from</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(one, index) in data.prices" :key="one.fromDay" :class="{ now: inForce(index) }">
          <td>
            {{ day(one.fromDay) }}<small v-if="one.fromDay > session.today" class="tone-attention">to come</small
            ><small v-else-if="inForce(index)" class="tone-settled">in force</small>
          </td>
          <td class="num">
            {{ priceText(one.tiers[0]!.price)
            }}<span v-if="one.priceBase !== '1'" class="unit"> / {{ one.priceBase }}</span>
          </td>
          <td>
            <span v-for="tier in one.tiers.slice(1)" :key="tier.from" class="tier"
              >{{ quantityText(tier.from) }}: {{ priceText(tier.price) }}</span
            >
          </td>
          <td>
            {{ label('price origin', one.origin)
            }}<small>{{ [one.by, since(one.at)].filter(Boolean).join(', ') }}</small
            ><small v-if="one.reason">{{ one.reason }}</small>
          </td>
        </tr>
      </tbody>
    </table>
  </ElDialog>
</template>

<style scoped>
.now td {
  background: #fbf7ee;
}
.tier {
  margin-right: 12px;
  white-space: nowrap;
}
</style>
