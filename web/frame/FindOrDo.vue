<script setup lang="ts">
import { onMounted, onUnmounted, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { Find, type Found } from '#contract/people/endpoints.ts'
import type { z } from 'zod'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import { label } from '#web/shared/words.ts'

type FoundItem = z.output<typeof Found>
const session = useSession()
const router = useRouter()
const input = ref<HTMLInputElement>()
const q = ref('')
const open = ref(false)
const found = shallowRef<FoundItem[]>([])
const at = ref(0)
let timer: ReturnType<typeof setTimeout> | undefined
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

watch(q, text => {
  clearTimeout(timer)
  at.value = 0
  const acts = ACTS.filter(
    act => session.may(act.right) && text.length > 0 && act.label.toLowerCase().includes(text.toLowerCase()),
  ).map(act => ({ kind: 'action', path: act.path, label: act.label, detail: '', exact: false }))
  found.value = acts
  timer = setTimeout(async () => {
    request.abort()
    request = new AbortController()
    const answer =
      text.trim().length >= 2
        ? await api(Find, { query: { q: text }, signal: request.signal }).catch(() => ({ found: [] }))
        : { found: [] }
    if (q.value !== text) return
    const sentence =
      session.may('requisition.write') && /\s/.test(text.trim()) && /\d/.test(text)
        ? [
            {
              kind: 'action',
              path: `/request/new?line=${encodeURIComponent(text.trim())}`,
              label: `Ask for: ${text.trim()}`,
              detail: '',
              exact: false,
            },
          ]
        : []
    found.value = [...answer.found, ...acts, ...sentence]
  }, 140)
})

async function go(item: FoundItem | undefined): Promise<void> {
  const target =
    item ??
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
onMounted(() => addEventListener('keydown', shortcut))
onUnmounted(() => removeEventListener('keydown', shortcut))
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
      @focus="open = true"
      @blur="open = false"
      @keydown="key"
    />
    <kbd aria-hidden="true">Ctrl K</kbd>
    <ul v-if="open && q" class="found">
      <li
        v-for="(item, index) in found"
        :key="item.path + item.label"
        :class="{ at: index === at }"
        @mousedown.prevent="go(item)"
      >
        <span class="quiet">{{ label('kind', item.kind) }}</span> {{ item.label }}
        <span class="quiet">{{ item.detail }}</span>
      </li>
      <li v-if="found.length === 0" class="quiet">Nothing by that name or number yet.</li>
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
