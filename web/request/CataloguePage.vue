<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import {
  CatalogueFacts,
  type CatalogueQuery,
  ExportItems,
  ImportItems,
  SearchCatalogue,
} from '#contract/request/catalogue.ts'
import { api, pathOf, Refused } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import BasketPane from '#web/request/BasketPane.vue'
import CatalogueFilters from '#web/request/CatalogueFilters.vue'
import CategoryTrail from '#web/request/CategoryTrail.vue'
import FoundItem from '#web/request/FoundItem.vue'
import ItemForm from '#web/request/ItemForm.vue'
import NoticeStrip from '#web/request/NoticeStrip.vue'
import PictureSearch from '#web/request/PictureSearch.vue'
import ImportDialog from '#web/shared/ImportDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useRead } from '#web/shared/useRead.ts'
import { useSearchText } from '#web/shared/useSearchText.ts'

/** Finding things: by words, codes, categories, facts and pictures. Filters stand in the address. */
const route = useRoute()
const router = useRouter()
const session = useSession()
const doing = ref<'' | 'import' | 'picture' | 'new'>('')
const { data: facts, reload: reloadFacts } = useRead(CatalogueFacts)
const { text: q, settle } = useSearchText(80)
const field = ref<InstanceType<typeof ElInput>>()
const FILTERS = ['q', 'category', 'supplier', 'agreement', 'stocked', 'certified', 'country', 'upTo', 'within'] as const
const value = (name: (typeof FILTERS)[number]): string =>
  typeof route.query[name] === 'string' ? route.query[name] : ''
const query = computed((): CatalogueQuery =>
  Object.fromEntries(FILTERS.map(name => [name, value(name)]).filter(([, text]) => text !== '')),
)
const narrowed = computed(
  () => FILTERS.filter(name => name !== 'q' && name !== 'category' && value(name) !== '').length,
)
const showFilters = ref(narrowed.value > 0)
const open = computed(() => typeof route.params.id === 'string')
const compared = computed(() =>
  String(route.query.compare ?? '')
    .split(',')
    .filter(Boolean),
)
const search = useRead(SearchCatalogue, () => ({ query: query.value }), { keep: true })
const answer = search.data
const reasons = computed(() => (search.failure.value instanceof Refused ? search.failure.value.reasons : []))
/** A scanner types a code and Enter: one exact item opens at once. */
const scanned = ref(false)
function openExact(): void {
  const found = answer.value
  if (!scanned.value || !found || search.loading.value) return
  scanned.value = false
  if (found.exact !== null) void router.push({ path: `/request/catalogue/${found.exact}`, query: route.query })
}
watch(search.loading, openExact)
const set = (change: Record<string, string | undefined>): void =>
  void router.replace({ path: route.path, query: { ...route.query, ...change } })
function enter(): void {
  settle()
  scanned.value = true
  if (value('q') === q.value) openExact()
  else set({ q: q.value || undefined })
}
onMounted(() => {
  if (matchMedia('(min-width: 701px)').matches) field.value?.focus()
})
const trail = computed(() => {
  const path: string[] = []
  const parentOf = (name: string): string | null =>
    facts.value?.categories.find(one => one.name === name)?.parent ?? null
  for (let at: string | null = value('category') || null; at && path.length < 9; at = parentOf(at)) path.unshift(at)
  return path
})
function compare(id: string): void {
  const next = compared.value.includes(id)
    ? compared.value.filter(one => one !== id)
    : [...compared.value, id].slice(-4)
  set({ compare: next.join(',') || undefined })
}
function changed(id = ''): void {
  doing.value = ''
  void search.reload()
  void reloadFacts()
  if (id) void router.push({ path: `/request/catalogue/${id}`, query: route.query })
}
</script>

<template>
  <div class="catalogue" :class="{ open }">
    <section class="found">
      <header>
        <p class="bar">
          <RouterLink to="/request" class="quiet">Requests</RouterLink
          ><RouterLink to="/request/lists" class="quiet">Repeat lists</RouterLink
          ><template v-if="session.may('catalogue.write')"
            ><ElButton link data-test="new-item" @click="doing = 'new'">Add an item</ElButton
            ><ElButton link data-test="import" @click="doing = 'import'">Import items</ElButton
            ><a :href="pathOf(ExportItems)" download class="quiet" data-test="export-items">all as CSV</a
            ><RouterLink to="/request/prices" data-test="to-prices">Prices of a supplier</RouterLink></template
          >
        </p>
        <h1>Catalogue</h1>
        <p class="searching">
          <ElInput
            ref="field"
            v-model="q"
            class="search"
            type="search"
            placeholder="What do you need? Words, a number, a GTIN or a scanned code"
            aria-label="Search the catalogue"
            data-test="catalogue-search"
            @keydown.enter.prevent="enter"
          /><ElButton link data-test="by-picture" @click="doing = 'picture'">by picture or barcode</ElButton>
        </p>
        <!-- the counts are of whole categories: under a search or a filter they would promise what is not found -->
        <CategoryTrail :categories="facts?.categories ?? []" :trail="trail" :counts="value('q') === '' && !narrowed" />
        <p class="narrow">
          <ElButton link :aria-expanded="showFilters" data-test="filters" @click="showFilters = !showFilters"
            >{{ showFilters ? 'Fewer facts' : 'Narrow by facts' }}{{ narrowed ? ` (${narrowed})` : '' }}</ElButton
          ><ElButton
            v-if="narrowed"
            link
            @click="
              router.replace({
                path: route.path,
                query: { q: value('q') || undefined, category: value('category') || undefined },
              })
            "
            >all of them</ElButton
          >
        </p>
        <CatalogueFilters v-if="showFilters" :facts="facts" :query="query" @set="set" />
        <NoticeStrip v-if="!open" :categories="trail" :suppliers="value('supplier') ? [value('supplier')] : []" />
        <ReasonList :reasons="reasons" />
        <p v-if="answer?.relaxed" class="quiet">Nothing has all these words; these have some of them.</p>
        <p v-for="one in answer?.takenFor" :key="one.typed" class="quiet" data-test="taken-for">
          “{{ one.typed }}” was taken for {{ one.taken.join(' or ') }}.
        </p>
      </header>
      <p v-if="answer && answer.items.length === 0" class="empty">
        Nothing in the catalogue is called that{{ narrowed ? ' under these facts' : '' }}.
        <RouterLink to="/request/new">Write a request in your own words</RouterLink>; purchasing will find it.
      </p>
      <ul>
        <FoundItem
          v-for="item in answer?.items"
          :key="item.id"
          :item="item"
          :compared="compared.includes(item.id)"
          @compare="compare(item.id)"
        />
      </ul>
      <p v-if="answer?.more" class="quiet foot">
        There is more than is shown. Say it more exactly, or narrow by facts.
      </p>
      <p v-if="compared.length > 1" class="to-compare">
        <RouterLink :to="{ path: '/request/compare', query: { items: compared.join(',') } }" data-test="to-compare"
          >Compare {{ compared.length }} items</RouterLink
        >
        <ElButton link @click="set({ compare: undefined })">leave it</ElButton>
      </p>
    </section>
    <section v-if="open" class="item">
      <RouterLink class="only-phone back" :to="{ path: '/request/catalogue', query: route.query }"
        >← back to what was found</RouterLink
      ><RouterView />
    </section>
    <BasketPane class="basket-side" />
    <ImportDialog
      v-if="doing === 'import'"
      title="Import items"
      what="a CSV file with the columns number, name, category and, for its offer, supplier and price; if you like also description, unit, gtin, maker, maker_number, also_called, packs, stocked, certified, discontinued_on, replaced_by, supplier_item, sold_in, agreement, currency, price_base, minimum, multiple, lead_time_days, tiers, valid_to, incoterm, incoterm_place, freight, in_stock, countries"
      :send="(fileId, dryRun) => api(ImportItems, { body: { fileId, dryRun } })"
      @close="changed()"
    />
    <ItemForm v-if="doing === 'new'" :category="value('category')" @close="doing = ''" @kept="changed" />
    <PictureSearch v-if="doing === 'picture'" @close="doing = ''" />
  </div>
</template>

<style scoped>
.catalogue {
  flex: 1;
  display: flex;
  min-height: 0;
}
.found {
  flex: 1 1 380px;
  min-width: 0;
  overflow: auto;
  padding: 16px 22px 40px;
  position: relative;
}
.item {
  flex: 1.35 1 520px;
  background: var(--sheet);
  border-left: 1px solid var(--rule);
  overflow: auto;
  min-width: 0;
}
.basket-side {
  flex: 0 0 250px;
}
.searching {
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
  margin: 8px 0;
}
.search {
  flex: 1 1 240px;
  max-width: 640px;
  height: 38px;
  font-size: 15px;
}
.narrow {
  font-size: 12px;
  display: flex;
  gap: 14px;
  margin: 4px 0;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
}
.foot {
  padding: 10px 0;
}
.to-compare {
  position: sticky;
  bottom: 0;
  background: var(--page);
  border-top: 1px solid var(--ink);
  padding: 8px 0;
  display: flex;
  gap: 14px;
}
@media (max-width: 1100px) {
  .catalogue.open .basket-side {
    display: none;
  }
}
@media (max-width: 700px) {
  .catalogue {
    flex-direction: column;
    overflow: auto;
  }
  .found {
    overflow: visible;
    flex: none;
    padding: 12px 16px 20px;
  }
  .item {
    flex: none;
    overflow: visible;
    border-left: 0;
  }
  .basket-side {
    flex: none;
    border-left: 0;
    border-top: 1px solid var(--rule);
  }
  .catalogue.open .found {
    display: none;
  }
  .catalogue.open .basket-side {
    display: block;
  }
  .back {
    padding: 10px 16px 0;
  }
}
</style>
