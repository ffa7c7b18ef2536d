<script setup lang="ts">
import { ElDialog } from 'element-plus'
import type { OfferJson } from '#contract/request/catalogue.ts'
import { ReadPrices } from '#contract/request/keeping.ts'
import { useSession } from '#web/people/session.ts'
import { useRead } from '#web/shared/useRead.ts'
import { day, priceText, quantityText, since } from '#web/shared/words.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** Every price of an offer: those that were, the one in force, those to come; who said so, and why. */
const props = defineProps<{ offer: OfferJson }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const { data } = useRead(ReadPrices, { params: { id: props.offer.id } })
/** The latest that has begun is in force. */
const inForce = (one: { fromDay: string }): boolean =>
  data.value!.prices.find(other => other.fromDay <= session.today)?.fromDay === one.fromDay
</script>

<template>
  <ElDialog :model-value="true" :title="`Prices of ${offer.supplier}`" width="640px" @close="emit('close')">
    <LineTable
      v-if="data"
      data-test="price-history"
      :now="inForce"
      :rows="data.prices"
      :columns="
        lineColumns({
          from: 'From',
          '#price': `Price, ${offer.currency}`,
          tiers: 'Larger quantities',
          origin: 'Where from',
        })
      "
      label="Prices"
      :key-of="one => one.fromDay"
      ><template #from="{ row: one }"
        >{{ day(one.fromDay) }}<small v-if="one.fromDay > session.today" class="tone-attention">to come</small
        ><small v-else-if="inForce(one)" class="tone-settled">in force</small></template
      >
      <template #price="{ row: one }"
        >{{ priceText(one.tiers[0]!.price)
        }}<span v-if="one.priceBase !== '1'" class="unit"> / {{ one.priceBase }}</span></template
      >
      <template #tiers="{ row: one }"
        ><span v-for="tier in one.tiers.slice(1)" :key="tier.from" class="tier"
          >{{ quantityText(tier.from) }}: {{ priceText(tier.price) }}</span
        ></template
      >
      <template #origin="{ row: one }"
        >{{ laterLabel('price origin', one.origin)
        }}<small>{{ [one.by, since(one.at)].filter(Boolean).join(', ') }}</small
        ><small v-if="one.reason">{{ one.reason }}</small></template
      ></LineTable
    >
  </ElDialog>
</template>

<style scoped>
.tier {
  margin-right: 12px;
  white-space: nowrap;
}
</style>
