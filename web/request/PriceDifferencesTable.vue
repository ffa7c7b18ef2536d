<script setup lang="ts">
import { ElRadio, ElRadioGroup } from 'element-plus'
import { computed, ref } from 'vue'
import type { DifferenceJson, PriceDifferences } from '#contract/request/keeping.ts'
import { isJump } from '#core/request/priceList.ts'
import { label, priceText, quantityText, unit, words } from '#web/shared/words.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** What prices were and would become, the dearer first; rows that cannot be taken above them. */
const props = defineProps<{ seen: PriceDifferences }>()
const KINDS = ['dearer', 'cheaper', 'tiers', 'missing', 'unknown', 'agreed', 'same'] as const
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
      <LineTable
        data-test="price-faults"
        :rows="seen.faults"
        :columns="lineColumns({ '#row': 'Row', place: 'Column', fault: 'What is wrong' })"
        label="Rows that cannot be taken"
        bare
        ><template #row="{ row: fault }">row {{ fault.row }}</template>
        <template #place="{ row: fault }">{{ fault.place }}</template>
        <template #fault="{ row: fault }">{{ words(fault) }}</template></LineTable
      ></template
    >
    <h2>What it changes</h2>
    <ElRadioGroup v-model="kind" size="small" aria-label="Kinds of difference"
      ><ElRadio value="">all</ElRadio
      ><ElRadio v-for="one in kinds" :key="one" :value="one"
        >{{ label('difference', one) }} {{ seen.counts[one] }}</ElRadio
      ></ElRadioGroup
    >
    <LineTable
      :rows="shown"
      :columns="
        lineColumns({
          item: 'Item',
          theirs: 'Their number',
          '#now': 'Now',
          '#then': 'Then',
          '#percent': 'Percent',
          happens: 'What happens',
        })
      "
      label="What it changes"
      ><template #item="{ row: one }"
        >{{ one.name || 'not named' }}<small>{{ one.number }}</small
        ><small v-if="one.agreement" class="tone-attention">agreement {{ one.agreement }}</small></template
      >
      <template #theirs="{ row: one }">{{ one.supplierItem }}</template>
      <template #now="{ row: one }"
        ><template v-if="one.before"
          >{{ priceText(one.before.tiers[0]!.price) }}<span class="unit">{{ per(one.before) }}</span
          ><small>{{ tiers(one.before) }}</small></template
        ></template
      >
      <template #then="{ row: one }"
        ><template v-if="one.after"
          >{{ priceText(one.after.tiers[0]!.price) }}
          <span class="unit">{{ one.currency }}{{ per(one.after) }}{{ one.unit ? ` ${unit(one.unit)}` : '' }}</span
          ><small>{{ tiers(one.after) }}</small></template
        ></template
      >
      <template #percent="{ row: one }"
        ><span :class="tone(one)">{{ one.percent === null ? '' : sign(one.percent) }}</span></template
      >
      <template #happens="{ row: one }"
        ><span :class="one.percent === null ? tone(one) : ''"
          >{{ label('difference', one.kind)
          }}<small v-if="one.percent !== null && isJump(one.percent)" class="tone-attention"
            >a jump: look twice</small
          ></span
        ></template
      ></LineTable
    >
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
