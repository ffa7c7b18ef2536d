<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { OfferOfPart } from '#core/build/offersOfPart.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { amountText, quantityText, words } from '#web/shared/words.ts'

/** Every offer of a part for what is needed, the cheapest first; what does not count says why. */
defineProps<{ offers: readonly OfferOfPart[]; chosen: string | undefined; mayChange: boolean }>()
const emit = defineEmits<{ choose: [offer: OfferOfPart | undefined] }>()
</script>

<template>
  <section class="section" data-test="part-offers">
    <h3>Who offers it</h3>
    <LineTable
      :rows="offers"
      :columns="
        lineColumns({
          supplier: 'Supplier',
          '~what': 'Item',
          '#buys': 'Buy',
          '#paid': 'Amount',
          '#^lead': 'Days',
          '-acts': 'Choose',
        })
      "
      label="Who offers it"
      :key-of="one => one.offerId"
      :off="one => one.against !== null"
      ><template #supplier="{ row: one }">{{ one.supplier }}</template>
      <template #what="{ row: one }"
        >{{ one.item }}<small>{{ laterLabel('build packing', one.packing) }}</small></template
      >
      <template #buys="{ row: one }">{{ one.against ? '' : quantityText(one.quantity) }}</template>
      <template #paid="{ row: one }">{{ one.amount ? amountText(one.amount) : '' }}</template>
      <template #lead="{ row: one }">{{ one.leadDays }}</template>
      <template #acts="{ row: one }"
        ><span v-if="one.against" class="quiet">{{ words({ code: `build.no.${one.against}`, details: {} }) }}</span
        ><ElButton
          v-else-if="mayChange && chosen !== one.offerId"
          link
          :data-test="`choose-${one.supplier}`"
          @click="emit('choose', one)"
          >choose by hand</ElButton
        ><template v-else-if="chosen === one.offerId"
          ><b>chosen by hand</b>
          <ElButton v-if="mayChange" link @click="emit('choose', undefined)">let the rule choose</ElButton></template
        ></template
      ></LineTable
    >
  </section>
</template>
