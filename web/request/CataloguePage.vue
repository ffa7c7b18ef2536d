<script setup lang="ts">
import { ElCheckbox, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { CatalogueFacts, ImportItems, SearchCatalogue } from '#contract/request/catalogue.ts'
import { api, Refused } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import BasketPane from '#web/request/BasketPane.vue'
import NoticeStrip from '#web/request/NoticeStrip.vue'
import PictureSearch from '#web/request/PictureSearch.vue'
import ImportDialog from '#web/shared/ImportDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useRead } from '#web/shared/useRead.ts'
import { useSearchText } from '#web/shared/useSearchText.ts'
import { priceText, unit } from '#web/shared/words.ts'

/** Finding things: by words, codes, categories, facts and pictures. Filters stand in the address. */
const route = useRoute()
const router = useRouter()
const session = useSession()
const importing = ref(false)
const byPicture = ref(false)
const { data: facts, reload: reloadFacts } = useRead(CatalogueFacts)
const { text: q, settle } = useSearchText(160)
const field = ref<HTMLInputElement>()
const FILTERS = ['q', 'category', 'supplier', 'agreement', 'stocked', 'certified', 'country', 'upTo', 'within'] as const
const value = (name: (typeof FILTERS)[number]): string =>
  typeof route.query[name] === 'string' ? route.query[name] : ''
const query = computed(() =>
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
const search = useRead(SearchCatalogue, () => ({ query: query.value as never }), { keep: true })
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

/** Categories as a tree: the top ones, and what hangs under the one that is open. */
const tops = computed(
  () =>
    facts.value?.categories.filter(
      one => one.parent === null || !facts.value!.categories.some(other => other.name === one.parent),
    ) ?? [],
)
const countOf = (name: string): number =>
  (facts.value?.categories.find(one => one.name === name)?.count ?? 0) +
  (facts.value?.categories.filter(one => one.parent === name).reduce((sum, one) => sum + countOf(one.name), 0) ?? 0)
/** The counts are of whole categories: under a search or a filter they would promise what is not found. */
const countsHold = computed(() => value('q') === '' && narrowed.value === 0)
const trail = computed(() => {
  const path: string[] = []
  for (
    let at: string | null = value('category') || null;
    at && path.length < 9;
    at = facts.value?.categories.find(one => one.name === at)?.parent ?? null
  )
    path.unshift(at)
  return path
})
const under = computed(() => facts.value?.categories.filter(one => one.parent === trail.value[0]) ?? [])
const pictureOf = (svg: string): string => `data:image/svg+xml,${encodeURIComponent(svg)}`
function compare(id: string): void {
  const next = compared.value.includes(id)
    ? compared.value.filter(one => one !== id)
    : [...compared.value, id].slice(-4)
  set({ compare: next.join(',') || undefined })
}
</script>

<template>
  <div class="catalogue" :class="{ open }">
    <section class="found">
      <header>
        <p class="bar">
          <RouterLink to="/request" class="quiet">Requests</RouterLink
          ><RouterLink to="/request/lists" class="quiet">Repeat lists</RouterLink
          ><button
            v-if="session.may('catalogue.write')"
            type="button"
            class="plain"
            data-test="import"
            @click="importing = true"
          >
            Import items
          </button>
        </p>
        <h1>Catalogue</h1>
        <p class="searching">
          <input
            ref="field"
            v-model="q"
            class="search"
            type="search"
            placeholder="What do you need? Words, a number, a GTIN or a scanned code"
            aria-label="Search the catalogue"
            data-test="catalogue-search"
            @keydown.enter.prevent="enter"
          /><button type="button" class="plain" data-test="by-picture" @click="byPicture = true">
            by picture or barcode
          </button>
        </p>
        <p class="categories">
          <RouterLink
            v-for="one in tops"
            :key="one.name"
            :to="{
              path: '/request/catalogue',
              query: { ...route.query, category: one.name === trail[0] && trail.length === 1 ? undefined : one.name },
            }"
            :class="{ on: trail.includes(one.name) }"
            >{{ one.name }} <span v-if="countsHold">{{ countOf(one.name) }}</span></RouterLink
          >
        </p>
        <p v-if="under.length" class="categories under">
          <RouterLink
            v-for="one in under"
            :key="one.name"
            :to="{
              path: '/request/catalogue',
              query: { ...route.query, category: one.name === value('category') ? trail[0] : one.name },
            }"
            :class="{ on: trail.includes(one.name) }"
            >{{ one.name }} <span v-if="countsHold">{{ countOf(one.name) }}</span></RouterLink
          >
        </p>
        <p class="narrow">
          <button
            type="button"
            class="plain"
            :aria-expanded="showFilters"
            data-test="filters"
            @click="showFilters = !showFilters"
          >
            {{ showFilters ? 'Fewer facts' : 'Narrow by facts' }}{{ narrowed ? ` (${narrowed})` : '' }}</button
          ><button
            v-if="narrowed"
            type="button"
            class="plain"
            @click="
              router.replace({
                path: route.path,
                query: { q: value('q') || undefined, category: value('category') || undefined },
              })
            "
          >
            all of them
          </button>
        </p>
        <div v-if="showFilters" class="facts">
          <ElSelect
            :model-value="value('supplier')"
            filterable
            default-first-option
            clearable
            :value-on-clear="''"
            placeholder="any supplier"
            aria-label="Supplier"
            size="small"
            data-test="filter-supplier"
            @update:model-value="set({ supplier: $event || undefined })"
            ><ElOption v-for="one in facts?.suppliers" :key="one.id" :value="one.id" :label="one.name"
          /></ElSelect>
          <ElInput
            :model-value="value('upTo')"
            size="small"
            aria-label="At most, EUR each"
            placeholder="up to, EUR each"
            @change="set({ upTo: String($event).replace(',', '.') || undefined })"
          /><ElInput
            :model-value="value('within')"
            aria-label="Within working days"
            size="small"
            placeholder="within … working days"
            @change="set({ within: String($event) || undefined })"
          />
          <ElSelect
            :model-value="value('country')"
            clearable
            :value-on-clear="''"
            placeholder="delivered to"
            aria-label="Delivered to"
            size="small"
            @update:model-value="set({ country: $event || undefined })"
            ><ElOption v-for="one in facts?.countries" :key="one" :value="one" :label="one"
          /></ElSelect>
          <ElCheckbox
            :model-value="value('agreement') === 'yes'"
            label="on agreement"
            data-test="filter-agreement"
            @change="set({ agreement: $event ? 'yes' : undefined })"
          /><ElCheckbox
            :model-value="value('stocked') === 'yes'"
            label="stocked"
            @change="set({ stocked: $event ? 'yes' : undefined })"
          /><ElCheckbox
            :model-value="value('certified') === 'yes'"
            label="certified"
            @change="set({ certified: $event ? 'yes' : undefined })"
          />
        </div>
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
        <li v-for="item in answer?.items" :key="item.id">
          <RouterLink
            :to="{ path: `/request/catalogue/${item.id}`, query: route.query }"
            :class="{ on: route.params.id === item.id, gone: item.discontinued }"
            :data-test="`item-${item.number}`"
          >
            <img v-if="item.picture" :src="pictureOf(item.picture)" alt="" width="54" height="54" loading="lazy" /><span
              v-else
              class="no-picture"
            />
            <span class="text"
              ><b>{{ item.name }}</b
              ><span class="quiet"
                >{{ item.number }}, {{ item.category }}<template v-if="item.stocked">, stocked</template
                ><template v-if="item.certified">, certified</template></span
              ><span v-if="item.discontinued" class="tone-attention"
                >discontinued{{ item.replacedBy ? `; replaced by ${item.replacedBy}` : '' }}</span
              ></span
            >
            <span class="price"
              ><template v-if="item.bestPrice"
                ><b
                  ><small class="unit">{{ item.currency }}</small> {{ priceText(item.bestPrice) }}</b
                ><span class="quiet"
                  >per {{ item.priceBase === '1' ? '' : item.priceBase }} {{ unit(item.unit)
                  }}<template v-if="item.offers > 1">, {{ item.offers }} offers</template></span
                ><span v-if="item.agreement" class="tone-settled agreed">agreement {{ item.agreement }}</span></template
              ><span v-else class="quiet">no offer</span></span
            ></RouterLink
          >
          <button
            type="button"
            class="plain compare"
            :aria-pressed="compared.includes(item.id)"
            :data-test="`compare-${item.number}`"
            @click="compare(item.id)"
          >
            {{ compared.includes(item.id) ? 'compared' : 'compare' }}
          </button>
        </li>
      </ul>
      <p v-if="answer?.more" class="quiet foot">
        There is more than is shown. Say it more exactly, or narrow by facts.
      </p>
      <p v-if="compared.length > 1" class="to-compare">
        <RouterLink :to="{ path: '/request/compare', query: { items: compared.join(',') } }" data-test="to-compare"
          >Compare {{ compared.length }} items</RouterLink
        >
        <button type="button" class="plain" @click="set({ compare: undefined })">leave it</button>
      </p>
    </section>
    <section v-if="open" class="item">
      <RouterLink class="only-phone back" :to="{ path: '/request/catalogue', query: route.query }"
        >← back to what was found</RouterLink
      ><RouterView />
    </section>
    <BasketPane class="basket-side" />
    <ImportDialog
      v-if="importing"
      title="Import items"
      what="a CSV file with the columns number, name, category, supplier, price and, if you like, description, unit, gtin, maker, maker_number, also_called, packs, stocked, certified, discontinued_on, replaced_by, supplier_item, agreement, currency, price_base, minimum, multiple, lead_time_days, tiers, valid_to, incoterm, incoterm_place, freight, countries"
      :send="(fileId, dryRun) => api(ImportItems, { body: { fileId, dryRun } })"
      @close="
        () => {
          importing = false
          void search.reload()
          void reloadFacts()
        }
      "
    />
    <PictureSearch v-if="byPicture" @close="byPicture = false" />
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
}
.search {
  flex: 1 1 240px;
  max-width: 640px;
  height: 38px;
  font: 15px var(--sans);
  padding: 0 12px;
  border: 1px solid #b9ae98;
  background: var(--sheet);
  margin: 8px 0;
  border-radius: 2px;
}
.categories {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
  font-size: 12px;
  margin: 2px 0;
}
.categories a {
  padding: 4px 0;
  text-decoration: none;
}
.categories span {
  color: var(--ink-quiet);
}
.categories .on {
  font-weight: 700;
  text-decoration: underline;
}
.under {
  border-left: 2px solid var(--rule);
  padding-left: 10px;
}
.narrow {
  font-size: 12px;
  display: flex;
  gap: 14px;
  margin: 4px 0;
}
.facts {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 6px 12px;
  margin: 4px 0 10px;
  max-width: 720px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
}
li {
  border-top: 1px solid var(--rule-light);
  position: relative;
}
li a {
  display: grid;
  grid-template-columns: 60px 1fr auto;
  gap: 12px;
  align-items: center;
  padding: 6px 8px 6px 0;
  color: inherit;
  text-decoration: none;
}
li a:hover {
  background: #fbf7ee;
}
li a.on {
  background: var(--sheet);
  box-shadow: inset 3px 0 0 var(--tide);
  padding-left: 8px;
}
li a.gone b {
  color: var(--ink-quiet);
}
.no-picture {
  width: 54px;
  height: 54px;
  border: 1px dashed var(--rule);
}
.text {
  display: flex;
  flex-direction: column;
  min-width: 0;
}
.price {
  display: flex;
  flex-direction: column;
  text-align: right;
  padding-bottom: 16px;
}
.agreed {
  font-size: 11.5px;
}
.compare {
  position: absolute;
  right: 8px;
  bottom: 2px;
  font-size: 11.5px;
  min-height: 24px;
  min-width: 50px;
  text-align: right;
}
.compare[aria-pressed='true'] {
  font-weight: 700;
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
