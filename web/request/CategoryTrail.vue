<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { CatalogueFacts } from '#contract/request/catalogue.ts'

/** Categories as a tree: the top ones, and what hangs under the one that is open. */
type Category = ResponseOf<typeof CatalogueFacts>['categories'][number]
const props = defineProps<{ categories: readonly Category[]; trail: readonly string[]; counts: boolean }>()
const route = useRoute()
const named = computed(() => new Map(props.categories.map(one => [one.name, one])))
const tops = computed(() => props.categories.filter(one => one.parent === null || !named.value.has(one.parent)))
const under = computed(() => props.categories.filter(one => one.parent === props.trail[0] && props.trail.length > 0))
const countOf = (name: string): number =>
  (named.value.get(name)?.count ?? 0) +
  props.categories.filter(one => one.parent === name).reduce((sum, one) => sum + countOf(one.name), 0)
const to = (category: string | undefined) => ({ path: '/request/catalogue', query: { ...route.query, category } })
const open = computed(() => props.trail.at(-1))
</script>

<template>
  <nav aria-label="Categories">
    <p class="categories">
      <RouterLink
        v-for="one in tops"
        :key="one.name"
        :to="to(one.name === trail[0] && trail.length === 1 ? undefined : one.name)"
        :class="{ on: trail.includes(one.name) }"
        >{{ one.name }} <span v-if="counts">{{ countOf(one.name) }}</span></RouterLink
      >
    </p>
    <p v-if="under.length" class="categories under">
      <RouterLink
        v-for="one in under"
        :key="one.name"
        :to="to(one.name === open ? trail[0] : one.name)"
        :class="{ on: trail.includes(one.name) }"
        >{{ one.name }} <span v-if="counts">{{ countOf(one.name) }}</span></RouterLink
      >
    </p>
  </nav>
</template>

<style scoped>
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
</style>
