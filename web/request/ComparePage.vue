<script setup lang="ts">
import { ElCheckbox } from 'element-plus'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { type ItemJson, ReadItem } from '#contract/request/catalogue.ts'
import { compareOffers, inOrder } from '#core/request/comparison.ts'
import { formatAmount } from '#core/money/amount.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import { usable } from '#web/request/compared.ts'
import { pictureSource } from '#web/request/itemPicture.ts'
import LineTable from '#web/shared/LineTable.vue'
import NumberField from '#web/shared/NumberField.vue'
import { amountText, day, priceText, quantityText, unit } from '#web/shared/words.ts'

/** Up to four items beside each other, fact by fact; what differs is marked. */
const route = useRoute()
const session = useSession()
const items = shallowRef<ItemJson[]>([])
const quantity = ref('1')
const onlyDifferent = ref(false)
watch(
  () => String(route.query.items ?? ''),
  async ids => {
    const read = await Promise.all(
      ids
        .split(',')
        .filter(Boolean)
        .slice(0, 4)
        .map(id => api(ReadItem, { params: { id } }).catch(() => undefined)),
    )
    items.value = read.filter(one => one !== undefined)
  },
  { immediate: true },
)
const best = (item: ItemJson) => {
  const live = item.offers.filter(offer => usable(offer, session.today))
  const [row] = inOrder(
    compareOffers(live, Number(quantity.value) > 0 ? quantity.value : '1', item, item.baseCurrency),
    one => live.find(offer => offer.id === one.id)!.agreement,
  )
  return row ? { row, offer: live.find(offer => offer.id === row.id)! } : undefined
}
const facts = computed((): { name: string; values: string[] }[] => {
  const of = (name: string, value: (item: ItemJson) => string): { name: string; values: string[] } => ({
    name,
    values: items.value.map(value),
  })
  return [
    of('Number', item => item.number),
    of('Category', item => item.category),
    of('Description', item => item.description),
    of('Maker', item => [item.maker, item.makerNumber].filter(Boolean).join(' ')),
    of('Counted in', item => unit(item.unit)),
    of('Packs', item => item.packs.map(pack => `${unit(pack.unit)} of ${pack.holds}`).join(', ')),
    of('Stocked', item => (item.stocked ? 'yes' : 'no')),
    of('Certified', item => (item.certified ? 'yes' : 'no')),
    of('Best offer', item => best(item)?.offer.supplier ?? 'none'),
    of('Agreement', item => best(item)?.offer.agreement ?? ''),
    of('Unit price', item => {
      const one = best(item)
      return one
        ? `${priceText(one.row.price)} ${one.offer.currency}${one.offer.priceBase === '1' ? '' : ` / ${one.offer.priceBase}`}`
        : ''
    }),
    of('To buy', item => {
      const one = best(item)
      return one ? `${quantityText(one.row.quantity)} ${unit(one.offer.unit)}` : ''
    }),
    of('In all, with carriage', item => {
      const one = best(item)
      return one && one.row.landed !== null
        ? `${amountText(formatAmount(one.row.landed, item.baseCurrency))} ${item.baseCurrency}`
        : ''
    }),
    of('There by', item => {
      const one = best(item)
      return one ? day(one.offer.earliest) : ''
    }),
    of('Offers', item => String(item.offers.length)),
    of('Last paid', item =>
      item.paid[0] ? `${priceText(item.paid[0].price)} ${item.paid[0].currency}, ${day(item.paid[0].day)}` : 'never',
    ),
  ].filter(fact => fact.values.some(value => value !== ''))
})
const differs = (values: readonly string[]): boolean => new Set(values).size > 1
const shown = computed(() => (onlyDifferent.value ? facts.value.filter(fact => differs(fact.values)) : facts.value))
const columns = computed(() => [
  { key: 'name', label: 'Fact', said: true, quiet: true },
  ...items.value.map(item => ({ key: item.id, label: item.name })),
])
</script>

<template>
  <main class="compare">
    <p>
      <RouterLink
        :to="{ path: '/request/catalogue', query: { compare: String(route.query.items ?? '') } }"
        class="quiet"
        >← Catalogue</RouterLink
      >
    </p>
    <h1>Compared</h1>
    <p class="bar want">
      <label class="bar">At a quantity of <NumberField v-model="quantity" label="Quantity" width="100px" /></label
      ><ElCheckbox v-model="onlyDifferent" data-test="only-different" label="only what differs" />
    </p>
    <p v-if="items.length < 2" class="empty">Mark two to four items in the catalogue with “compare”.</p>
    <LineTable
      v-else
      class="facts"
      :rows="shown"
      :columns="columns"
      label="Facts of the items"
      :key-of="fact => fact.name"
      :mark="fact => (differs(fact.values) ? 'differs' : 'same')"
    >
      <template #head="{ column }"
        ><template v-for="item in items.filter(one => one.id === column.key)" :key="item.id"
          ><img v-if="item.picture" :src="pictureSource(item.picture)" alt="" width="92" height="92" /><br /><RouterLink
            :to="`/request/catalogue/${item.id}`"
            >{{ item.name }}</RouterLink
          ></template
        ><span v-if="column.said" class="visually-hidden">{{ column.label }}</span></template
      >
      <template #name="{ row: fact }"
        ><span :class="{ differs: differs(fact.values) }"
          >{{ fact.name }}<span v-if="differs(fact.values)" class="visually-hidden">, differs</span></span
        ></template
      >
      <template #cell="{ row: fact, column }"
        ><span :class="{ other: differs(fact.values) }">{{
          fact.values[items.findIndex(one => one.id === column.key)] || '–'
        }}</span></template
      >
    </LineTable>
  </main>
</template>

<style scoped>
.compare {
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  padding: 20px 28px 50px;
}
.want {
  margin: 12px 0;
}
.facts :deep(th) {
  font: 600 15px var(--serif);
}
.facts :deep(td:first-child) {
  width: 160px;
  padding-left: 10px;
}
.facts :deep(td:first-child:has(.differs)) {
  box-shadow: inset 3px 0 0 var(--brass);
}
.other {
  font-weight: 600;
}
</style>
