<script setup lang="ts">
import type { z } from 'zod'
import type { DeliveryJson } from '#contract/order/endpoints.ts'
import { t } from '#web/shared/language.ts'
import { day, quantityText, unit as unitWords } from '#web/shared/words.ts'

/** The deliveries of a line: how much by when and where to, what is promised, and what has come. */
defineProps<{ deliveries: readonly z.output<typeof DeliveryJson>[]; unit: string }>()
</script>

<template>
  <small v-for="(one, at) in deliveries" :key="at" :class="{ quiet: one.open === '0' }"
    >{{ quantityText(one.quantity) }} {{ unitWords(unit) }} {{ t('by {day}', { day: day(one.date) })
    }}<template v-if="one.place">{{ t(', to {place}', { place: one.place }) }}</template
    ><span v-if="one.promised && one.promised > one.date && one.open !== '0'" class="tone-attention">{{
      t(', promised for {day}', { day: day(one.promised) })
    }}</span
    ><template v-if="one.open === '0'">{{ t(', in') }}</template
    ><template v-else-if="one.open !== one.quantity">{{
      t(', {open} still to come', { open: quantityText(one.open) })
    }}</template></small
  >
</template>
