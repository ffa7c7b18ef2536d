<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ImportItems, SearchCatalogue } from '#contract/request/endpoints.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import { useBasket } from '#web/request/basket.ts'
import ImportDialog from '#web/shared/ImportDialog.vue'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, priceText, unit } from '#web/shared/words.ts'

const route = useRoute()
const router = useRouter()
const session = useSession()
const basket = useBasket()
const { busy, reasons, run } = useAction()
const importing = ref(false)
const answer = shallowRef<ResponseOf<typeof SearchCatalogue>>()
const q = ref(String(route.query.q ?? ''))
const category = computed(() => String(route.query.category ?? ''))
const open = computed(() => typeof route.params.id === 'string')
let request = new AbortController()
let timer: ReturnType<typeof setTimeout> | undefined

async function load(): Promise<void> {
  request.abort()
  const { signal } = (request = new AbortController())
  await run(async () => {
    const found = await api(SearchCatalogue, { query: { q: String(route.query.q ?? ''), category: category.value }, signal }).catch(error => { if (!signal.aborted) throw error; return undefined })
    if (found) answer.value = found
  })
}
watch(() => [route.query.q, route.query.category], () => { busy.value = false; void load() }, { immediate: true })
watch(q, text => { clearTimeout(timer); timer = setTimeout(() => void router.replace({ path: '/request/catalogue', query: { ...route.query, q: text || undefined } }), 160) })
onMounted(() => void basket.load())
const pictureOf = (svg: string): string => `data:image/svg+xml,${encodeURIComponent(svg)}`
async function ask(): Promise<void> {
  const id = await run(() => basket.request())
  if (id) await router.push(`/request/${id}`)
}
</script>

<template>
  <div class="catalogue">
    <section class="found">
      <header>
        <p class="bar"><RouterLink to="/request" class="quiet">Requests</RouterLink><button v-if="session.may('catalogue.write')" type="button" class="plain" data-test="import" @click="importing = true">Import items</button></p>
        <h1>Catalogue</h1>
        <input v-model="q" class="search" type="search" placeholder="What do you need? Words, part of a word, an item number or GTIN" aria-label="Search the catalogue" data-test="catalogue-search" autofocus />
        <p class="categories"><RouterLink v-for="one in answer?.categories" :key="one.name" :to="{ path: '/request/catalogue', query: { ...route.query, category: one.name === category ? undefined : one.name } }" :class="{ on: one.name === category }">{{ one.name }} <span>{{ one.count }}</span></RouterLink></p>
        <ReasonList :reasons="reasons" />
      </header>
      <p v-if="answer && answer.items.length === 0" class="empty">Nothing in the catalogue is called that. <RouterLink to="/request/new">Write a request in your own words</RouterLink>; purchasing will find it.</p>
      <ul>
        <li v-for="item in answer?.items" :key="item.id"><RouterLink :to="{ path: `/request/catalogue/${item.id}`, query: route.query }" :class="{ on: route.params.id === item.id }" :data-test="`item-${item.number}`">
          <img v-if="item.picture" :src="pictureOf(item.picture)" alt="" width="54" height="54" /><span v-else class="no-picture" />
          <span class="text"><b>{{ item.name }}</b><span class="quiet">{{ item.number }}, {{ item.category }}</span></span>
          <span class="price"><template v-if="item.bestPrice"><b><small class="unit">{{ item.currency }}</small> {{ priceText(item.bestPrice) }}</b><span class="quiet">per {{ item.priceBase === '1' ? '' : item.priceBase }} {{ unit(item.unit) }}<template v-if="item.offers > 1">, {{ item.offers }} offers</template></span></template><span v-else class="quiet">no offer</span></span></RouterLink></li>
      </ul>
    </section>
    <section v-if="open" class="item"><RouterView /></section>
    <aside class="basket"><h2>Basket</h2>
      <p v-if="basket.lines.length === 0" class="quiet">Empty. What you put in is kept, also when you sign out.</p>
      <div v-for="line in basket.lines" :key="line.offerId" class="basket-line"><p><b>{{ line.name }}</b><br /><span class="quiet">{{ line.supplier }}</span></p>
        <p class="bar"><NumberField :model-value="line.quantity" :label="`Quantity of ${line.name}`" width="80px" @update:model-value="Number($event) > 0 && basket.put({ itemId: line.itemId, offerId: line.offerId, quantity: $event })" /><span class="unit">{{ unit(line.unit) }}</span><span class="sum">{{ amountText(line.amount) }} <span class="unit">{{ line.currency }}</span></span></p>
        <button type="button" class="plain" @click="basket.put({ itemId: line.itemId, offerId: line.offerId, quantity: '0' })">take out</button></div>
      <ElButton v-if="basket.lines.length" type="primary" :disabled="busy" data-primary data-test="request-basket" @click="ask">Make a request of it<kbd class="hint">Ctrl ↵</kbd></ElButton></aside>
    <ImportDialog v-if="importing" title="Import items" what="a CSV file with the columns number, name, category, supplier, price and, if you like, description, unit, gtin, supplier_item, currency, price_base, minimum, multiple, lead_time_days, tiers" :endpoint="ImportItems" @close="importing = false; load()" />
  </div>
</template>

<style scoped>
.catalogue { flex: 1; display: flex; min-height: 0; } .found { flex: 1 1 380px; min-width: 0; overflow: auto; padding: 16px 22px 40px; } .item { flex: 1.2 1 480px; background: var(--sheet); border-left: 1px solid var(--rule); overflow: auto; min-width: 0; } .basket { flex: 0 0 266px; border-left: 1px solid var(--rule); padding: 18px; overflow: auto; background: var(--sheet); }
.search { width: 100%; max-width: 640px; height: 38px; font: 15px var(--sans); padding: 0 12px; border: 1px solid #b9ae98; background: var(--sheet); margin: 8px 0; border-radius: 2px; }
.categories { display: flex; flex-wrap: wrap; gap: 2px 14px; font-size: 12px; margin: 4px 0 8px; } .categories a { padding: 4px 0; } .categories span { color: var(--ink-quiet); } .categories .on { font-weight: 700; text-decoration: underline; }
ul { list-style: none; padding: 0; margin: 0; } li { border-top: 1px solid var(--rule-light); } li a { display: grid; grid-template-columns: 60px 1fr auto; gap: 12px; align-items: center; padding: 6px 8px 6px 0; color: inherit; } li a:hover { text-decoration: none; background: #fbf7ee; } li a.on { background: var(--sheet); box-shadow: inset 3px 0 0 var(--tide); padding-left: 8px; }
.text, .price { display: flex; flex-direction: column; } .price { text-align: right; white-space: nowrap; } b { font-weight: 600; } .text .quiet, .price .quiet { font-size: 12px; } .no-picture { width: 54px; height: 54px; border: 1px dotted var(--rule); }
.basket h2 { margin-bottom: 8px; } .basket-line { border-bottom: 1px solid var(--rule-light); padding: 8px 0; } .basket-line .bar { gap: 6px; } .sum { margin-left: auto; } .basket .el-button { margin-top: 14px; width: 100%; } .hint { margin-left: 8px; border: 0; }
@media (max-width: 700px) { .catalogue { flex-direction: column; overflow: auto; } .found, .item, .basket { flex: none; overflow: visible; } }
</style>
