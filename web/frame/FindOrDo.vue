<script setup lang="ts">
import { useEventListener, watchDebounced } from '@vueuse/core'
import { ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { Find, type Found } from '#contract/people/endpoints.ts'
import type { z } from 'zod'
import { ReadQuickLines } from '#contract/request/endpoints.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import { day, label } from '#web/shared/words.ts'

type FoundItem = z.output<typeof Found>
const session = useSession()
const router = useRouter()
const input = ref<HTMLInputElement>()
const q = ref('')
const open = ref(false)
const found = shallowRef<FoundItem[]>([])
const at = ref(0)
let request = new AbortController()

const ACTS: readonly { label: string; path: string; right: Parameters<typeof session.may>[0] }[] = [
  { label: 'New request', path: '/request/new', right: 'requisition.write' },
  { label: 'My needs', path: '/request/needs', right: 'requisition.write' },
  { label: 'Repeat lists', path: '/request/lists', right: 'requisition.write' },
  { label: 'Move budget', path: '/insight/transfers', right: 'budget.transfer' },
  { label: 'Open the catalogue', path: '/request/catalogue', right: 'catalogue.read' },
  { label: 'New supplier', path: '/source/new', right: 'supplier.write' },
  { label: 'Buy what is approved', path: '/order/to-buy', right: 'order.write' },
  { label: 'Read e-invoices', path: '/bill?read=1', right: 'invoice.write' },
  { label: 'Propose a payment run', path: '/pay?list=payables', right: 'payment.propose' },
  { label: 'Re-add the books', path: '/insight?audit=1', right: 'audit.run' },
]

const item = (path: string, text: string, detail = ''): FoundItem => ({
  kind: 'action',
  path,
  label: text,
  detail,
  exact: false,
})
const actsFor = (text: string): FoundItem[] =>
  text === ''
    ? []
    : ACTS.filter(act => session.may(act.right) && act.label.toLowerCase().includes(text.toLowerCase())).map(act =>
        item(act.path, act.label),
      )

/** What a sentence was understood as, before it is taken: "6 · Nitrate test, 200 · by 4 Dec". Nothing, where it is none. */
async function understood(text: string, signal: AbortSignal): Promise<FoundItem[]> {
  if (!session.may('requisition.write') || !/\s/.test(text) || !/\d/.test(text)) return []
  const { lines } = await api(ReadQuickLines, { body: { text, choices: {} }, signal })
  const parts = lines[0]?.parts ?? []
  const clear = parts.filter(part => part.readings.length === 1)
  const open = parts.filter(part => part.readings.length > 1).length
  const said = clear.map(part => (part.kind === 'date' ? day(part.readings[0]!.label) : part.readings[0]!.label))
  const detail = [...said, ...(open > 0 ? [`${open} to choose`] : [])].join(' · ')
  return [item(`/request/new?line=${encodeURIComponent(text)}`, `Ask for: ${text}`, detail)]
}

watch(q, text => {
  at.value = 0
  found.value = actsFor(text)
})
watchDebounced(q, text => void look(text), { debounce: 140 })
async function look(text: string): Promise<void> {
  request.abort()
  const { signal } = (request = new AbortController())
  const none = (): FoundItem[] => []
  const [known, sentence] = await Promise.all([
    text.trim().length < 2 ? [] : api(Find, { query: { q: text }, signal }).then(answer => answer.found, none),
    understood(text.trim(), signal).catch(none),
  ])
  if (q.value === text) found.value = [...known, ...actsFor(text), ...sentence]
}

async function go(chosen: FoundItem | undefined): Promise<void> {
  const target =
    chosen ??
    (q.value.trim() ? (await api(Find, { query: { q: q.value } }).catch(() => ({ found: [] }))).found[0] : undefined)
  if (!target) return
  open.value = false
  q.value = ''
  input.value?.blur()
  await router.push(target.path)
}

function key(event: KeyboardEvent): void {
  if (event.key === 'ArrowDown') at.value = Math.min(found.value.length - 1, at.value + 1)
  else if (event.key === 'ArrowUp') at.value = Math.max(0, at.value - 1)
  else if (event.key === 'Enter') void go(found.value[at.value])
  else if (event.key === 'Escape') {
    open.value = false
    input.value?.blur()
  } else return
  event.preventDefault()
}

const shortcut = (event: KeyboardEvent): void => {
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
    event.preventDefault()
    input.value?.focus()
    input.value?.select()
  }
}
useEventListener('keydown', shortcut)
</script>

<template>
  <div class="find" role="search">
    <input
      ref="input"
      v-model="q"
      type="search"
      placeholder="Find or do"
      aria-label="Find or do"
      data-test="find"
      autocomplete="off"
      role="combobox"
      aria-haspopup="listbox"
      aria-controls="found-list"
      :aria-expanded="open && q !== ''"
      :aria-activedescendant="open && found.length ? `found-${at}` : undefined"
      @focus="open = true"
      @blur="open = false"
      @keydown="key"
    />
    <kbd aria-hidden="true">Ctrl K</kbd>
    <ul v-if="open && q" id="found-list" class="found" role="listbox" aria-label="Found">
      <li
        v-for="(one, index) in found"
        :id="`found-${index}`"
        :key="one.path + one.label"
        role="option"
        :aria-selected="index === at"
        :class="{ at: index === at, said: one.detail.includes(' · ') }"
        @mousedown.prevent="go(one)"
      >
        <span class="quiet">{{ label('kind', one.kind) }}</span> {{ one.label }}
        <span class="quiet detail">{{ one.detail }}</span>
      </li>
      <li v-if="found.length === 0" role="option" aria-selected="false" class="quiet">
        Nothing by that name or number yet.
      </li>
    </ul>
  </div>
</template>

<style scoped>
.find {
  position: relative;
}
input {
  width: 190px;
  height: 30px;
  border: 1px solid #4a5563;
  border-radius: 2px;
  background: transparent;
  color: var(--ink-light);
  padding: 0 54px 0 10px;
  font: 12.5px var(--sans);
}
input::placeholder {
  color: #aeb4bc;
}
input::-webkit-search-cancel-button {
  display: none;
}
kbd {
  position: absolute;
  right: 8px;
  top: 7px;
  color: #aeb4bc;
  border-color: #4a5563;
}
.found {
  position: absolute;
  right: 0;
  top: 34px;
  width: 380px;
  max-width: 92vw;
  margin: 0;
  padding: 4px 0;
  list-style: none;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--rule);
  z-index: 30;
  box-shadow: 0 4px 16px rgb(27 36 49 / 20%);
}
.found li {
  padding: 6px 12px;
  cursor: pointer;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.found li.said .detail {
  display: block;
  font-size: 12px;
  white-space: normal;
}
.found li.at,
.found li:hover {
  background: var(--tide-light);
}
@media (max-width: 700px) {
  input {
    width: 120px;
    padding-right: 8px;
  }
  kbd {
    display: none;
  }
}
</style>
