<script setup lang="ts">
import { ElRadio, ElRadioGroup } from 'element-plus'
import { computed, ref } from 'vue'
import type { DifferenceJson, PriceDifferences } from '#contract/request/keeping.ts'
import { isJump } from '#core/request/priceList.ts'
import { label, priceText, quantityText, unit, words } from '#web/shared/words.ts'

/** What prices were and would become, the dearer first; rows that cannot be taken above them. */
const props = defineProps<{ seen: PriceDifferences }>()
const KINDS = ['dearer', 'cheaper', 'tiers', 'missing', 'unknown', 'same'] as const
const kind = ref<'' | (typeof KINDS)[number]>('')
const kinds = computed(() => KINDS.filter(one => props.seen.counts[one]))
const shown = computed(() => props.seen.differences.filter(one => kind.value === '' || one.kind === kind.value))
const hidden = computed(
  () => Object.values(props.seen.counts).reduce((a, b) => a + b, 0) - props.seen.differences.length,
)
const per = (prices: DifferenceJson['before']): string =>
  !prices || prices.priceBase === '1' ? '' : ` / ${prices.priceBase}`
const tiers = (prices: DifferenceJson['before']): string =>
  (prices?.tiers ?? [])
    .slice(1)
    .map(tier => `${quantityText(tier.from)}: ${priceText(tier.price)}`)
    .join(', ')
const tone = (one: DifferenceJson): string =>
  one.kind === 'dearer' || one.kind === 'missing' ? 'tone-attention' : one.kind === 'cheaper' ? 'tone-settled' : ''
const sign = (percent: string): string => (percent.startsWith('-') || percent === '0' ? percent : `+${percent}`)
</script>

<template>
  <section class="differences" data-test="differences">
    <template v-if="seen.faultCount"
      ><h2>Rows that cannot be taken</h2>
      <table class="lines" data-test="price-faults">
        <tbody>
          <tr v-for="(fault, index) in seen.faults" :key="index">
            <td class="num">row {{ fault.row }}</td>
            <td>{{ fault.place }}</td>
            <td>{{ words(fault) }}</td>
          </tr>
        </tbody>
      </table></template
    >
    <h2>What it changes</h2>
    <ElRadioGroup v-model="kind" size="small" aria-label="Kinds of difference"
      ><ElRadio value="">all</ElRadio
      ><ElRadio v-for="one in kinds" :key="one" :value="one"
        >{{ label('difference', one) }} {{ seen.counts[one] }}</ElRadio
      ></ElRadioGroup
    >
    <table class="lines">
      <thead>
        <tr>
          <th>Item</th>
          <th>Their number</th>
          <th class="num">Now</th>
          <th class="num">Then</th>
          <th class="num">Percent</th>
          <th>What happens</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(one, index) in shown" :key="index">
          <td>
            {{ one.name || 'not named' }}<small>{{ one.number }}</small
            ><small v-if="one.agreement" class="tone-attention">agreement {{ one.agreement }}</small>
          </td>
          <td>{{ one.supplierItem }}</td>
          <td class="num">
            <template v-if="one.before"
              >{{ priceText(one.before.tiers[0]!.price) }}<span class="unit">{{ per(one.before) }}</span
              ><small>{{ tiers(one.before) }}</small></template
            >
          </td>
          <td class="num">
            <template v-if="one.after"
              >{{ priceText(one.after.tiers[0]!.price) }}
              <span class="unit">{{ one.currency }}{{ per(one.after) }}{{ one.unit ? ` ${unit(one.unit)}` : '' }}</span
              ><small>{{ tiers(one.after) }}</small></template
            >
          </td>
          <td class="num" :class="tone(one)">{{ one.percent === null ? '' : sign(one.percent) }}</td>
          <td :class="one.percent === null ? tone(one) : ''">
            {{ label('difference', one.kind)
            }}<small v-if="one.percent !== null && isJump(one.percent)" class="tone-attention"
              >a jump: look twice</small
            >
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="hidden > 0" class="quiet">{{ hidden }} more are not shown; they count, too.</p>
  </section>
</template>

<style scoped>
h2 {
  margin: 16px 0 8px;
}
.lines {
  margin-top: 10px;
}
</style>
