<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { Costing } from '#web/build/useCosting.ts'
import { day } from '#web/shared/words.ts'

/** What has changed since the day that a costing is priced on. */
const props = defineProps<{ costing: Costing; mayChange: boolean; busy: boolean }>()
const emit = defineEmits<{ again: [] }>()
type Change = Costing['changes'][number]
const SHOWN = 10
const nameOf = (id: string): string =>
  props.costing.names[id] ??
  props.costing.known.items.find(one => one.id === id)?.name ??
  props.costing.known.suppliers.find(one => one.id === id)?.name ??
  ''
const WORDS: Readonly<Record<Exclude<Change['kind'], 'price' | 'rate'>, string>> = {
  terms: 'other terms',
  newOffer: 'a new offer',
  offerGone: 'offer ended',
  discontinued: 'not made any more',
}
const what = (one: Change): string => (one.kind === 'rate' ? `rate ${one.currency}` : nameOf(one.itemId))
const whose = (one: Change): string => ('supplierId' in one ? nameOf(one.supplierId) : '')
const said = (one: Change): string =>
  one.kind === 'price' || one.kind === 'rate'
    ? `${one.percent.startsWith('-') ? '−' : '+'} ${one.percent.replace('-', '')} %`
    : WORDS[one.kind]
const tone = (one: Change): string =>
  one.kind === 'price'
    ? one.percent.startsWith('-')
      ? 'tone-settled'
      : 'tone-stop'
    : one.kind === 'offerGone' || one.kind === 'discontinued'
      ? 'tone-attention'
      : ''
</script>

<template>
  <section data-test="costing-since">
    <h3>Since {{ day(costing.pricedOn) }}</h3>
    <p v-for="(one, at) in costing.changes.slice(0, SHOWN)" :key="at" class="kv">
      <span
        >{{ what(one) }}<small v-if="whose(one)" class="quiet"> {{ whose(one) }}</small></span
      ><span class="nowrap" :class="tone(one)">{{ said(one) }}</span>
    </p>
    <p v-if="costing.changes.length + costing.moreChanges > SHOWN" class="quiet">
      and {{ costing.changes.length + costing.moreChanges - SHOWN }} more
    </p>
    <ElButton v-if="mayChange" link :disabled="busy" data-test="price-again" @click="emit('again')"
      >price it as of today</ElButton
    >
  </section>
</template>

<style scoped>
small {
  display: block;
}
.nowrap {
  white-space: nowrap;
}
</style>
