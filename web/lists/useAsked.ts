import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { type AskedJson, ReadViews, type SavedViewJson } from '#contract/lists/views.ts'
import { arrange, type ColumnLook, sameLooks } from '#core/lists/looks.ts'
import { usePreferences } from '#web/people/preferences.ts'
import { useRead } from '#web/shared/useRead.ts'

const PARTS = ['view', 'q', 'sort', 'state', 'where', 'group'] as const
const text = (value: unknown): string | undefined => (typeof value === 'string' && value !== '' ? value : undefined)
const isId = (text: string | undefined): boolean => /^[0-9a-f-]{36}$/.test(text ?? '')
const partsOf = (query: Readonly<Record<string, unknown>>): AskedJson =>
  Object.fromEntries(PARTS.flatMap(part => (text(query[part]) === undefined ? [] : [[part, text(query[part])]])))
const same = (a: AskedJson, b: AskedJson): boolean => PARTS.every(part => (a[part] ?? '') === (b[part] ?? ''))

/**
 * What a list is asked: it stands in the address, together with the saved view that it comes from. A list that is opened without anything in
 * its address begins with the view that the person chose to begin with.
 */
export function useAsked(list: { readonly name: string }) {
  const route = useRoute()
  const router = useRouter()
  const preferences = usePreferences()
  const asked = computed<AskedJson>(() => partsOf(route.query))
  const savedId = computed(() => text(route.query.saved))
  const start = computed(() => preferences.get('start', list.name))
  const looking = ref(false)
  const { data, reload } = useRead(
    ReadViews,
    { params: { list: list.name } },
    { when: () => looking.value || savedId.value !== undefined || isId(start.value) },
  )
  const views = computed<readonly SavedViewJson[]>(() => data.value?.views ?? [])
  const saved = computed(() => views.value.find(one => one.id === savedId.value))
  /** A link to a view that is not there any more, or that nobody shared. */
  const unknown = computed(() => savedId.value !== undefined && data.value !== undefined && saved.value === undefined)

  const set = (change: Readonly<Record<string, string | undefined>>): void =>
    void router.replace({ path: route.path, query: { ...route.query, ...change } })
  function openView(view: SavedViewJson): void {
    own.value = undefined
    void router.replace({ path: route.path, query: { ...view.asked, saved: view.id } })
  }
  function openOwn(view: string): void {
    own.value = undefined
    set({ view, saved: undefined })
  }
  watch(
    [views, () => route.path, start],
    () => {
      const bare = Object.keys(asked.value).length === 0
      if (!bare) return
      if (saved.value && Object.keys(saved.value.asked).length > 0) return openView(saved.value)
      if (savedId.value !== undefined || route.params.id !== undefined) return
      const first = views.value.find(one => one.id === start.value)
      if (first) openView(first)
      else if (start.value && !isId(start.value)) set({ view: start.value })
    },
    { immediate: true },
  )

  /** Columns that were changed since the saved view was opened. */
  const own = ref<readonly ColumnLook[]>()
  const looks = computed<readonly ColumnLook[]>(
    () => own.value ?? saved.value?.columns ?? preferences.get('columns', list.name) ?? [],
  )
  function look(next: readonly ColumnLook[]): void {
    if (savedId.value) own.value = next
    else preferences.set('columns', list.name, [...next])
  }
  const changed = computed(() => {
    const view = saved.value
    if (!view) return false
    const keys = looks.value.map(one => one.key)
    return (
      !same(asked.value, view.asked) ||
      (own.value !== undefined && !sameLooks(arrange(own.value, keys).columns, arrange(view.columns, keys).columns))
    )
  })
  return {
    asked,
    savedId,
    saved,
    unknown,
    changed,
    views,
    looks,
    look,
    set,
    openView,
    openOwn,
    start,
    begin: (view: string): void => preferences.set('start', list.name, view),
    /** Somebody opens the menu of views. */
    see: (): void => {
      looking.value = true
    },
    reload,
    settled: (): void => {
      own.value = undefined
    },
  }
}
export type Asked = ReturnType<typeof useAsked>
