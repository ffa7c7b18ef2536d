import { onScopeDispose, ref, toValue, watch, type MaybeRefOrGetter } from 'vue'

/** What this person's own Desk waits for. */
export const OWN_DESK = 'desk'
/** The measured value of the stages. */
export const STAGE_VALUES = kindTopic('stageValues')
/** Milliseconds after which what is newly shown is asked for too: it is loaded first, and `since` tells what came between. */
const SETTLED = 250
/** Milliseconds that changes are gathered for before a page asks again. */
const GATHER = 400
/** Milliseconds after which a broken stream is said to be broken. */
const PATIENCE = 3000
/** Milliseconds for which a page that is not looked at goes on listening: a browser has six connections for all pages of a site. */
const REST = 5000

export function documentTopic(id: string): string {
  return `document:${id}`
}
export function kindTopic(kind: string): string {
  return `kind:${kind}`
}

interface Listener {
  readonly topics: () => readonly string[]
  readonly heard: () => void
}

const listeners = new Set<Listener>()
/** False while the server cannot be heard. */
export const connected = ref(true)
let source: EventSource | undefined
let listeningTo = ''
/** Up to when the server has told us everything, by its own clock in milliseconds. */
let since = ''
let pending = false

/** Begins to listen; `at` is the server's time when this person's session was read. */
export function startNews(at: string): void {
  if (since === '') {
    document.addEventListener('visibilitychange', looked)
    window.addEventListener('pagehide', rest)
    window.addEventListener('pageshow', looked)
  }
  since = String(Date.parse(at))
  open()
}

let resting: ReturnType<typeof setTimeout> | undefined
/** Listens while the page is looked at; whoever comes back hears what was missed. */
function looked(): void {
  clearTimeout(resting)
  if (document.hidden) resting = setTimeout(rest, REST)
  else open()
}
function rest(): void {
  source?.close()
  source = undefined
}

/** Asks for what the pages show that are there now; several that come or go one after the other are one question. */
function refresh(): void {
  if (pending || since === '') return
  pending = true
  setTimeout(
    () => {
      pending = false
      open()
    },
    source ? SETTLED : 0,
  )
}

function open(): void {
  if (document.hidden && !source) return
  const topics = [...new Set([...listeners].flatMap(listener => [...listener.topics()]))].sort().join(',')
  if (source && topics === listeningTo) return
  source?.close()
  listeningTo = topics
  const stream = (source = new EventSource(`/api/events?${new URLSearchParams({ topics, since }).toString()}`))
  const keep = (event: MessageEvent): void => {
    if (event.lastEventId) since = event.lastEventId
  }
  stream.addEventListener('beat', keep)
  stream.addEventListener('changed', event => {
    keep(event)
    const changed = new Set(JSON.parse(String(event.data)) as string[])
    for (const listener of listeners) if (listener.topics().some(topic => changed.has(topic))) listener.heard()
  })
  stream.addEventListener('missed', event => {
    keep(event)
    for (const listener of listeners) listener.heard()
  })
  stream.addEventListener('open', () => {
    connected.value = true
  })
  stream.addEventListener('error', () => {
    setTimeout(() => {
      if (source === stream && stream.readyState !== EventSource.OPEN) connected.value = false
    }, PATIENCE)
    // a stream that the server refused is not opened again by the browser
    if (stream.readyState === EventSource.CLOSED)
      setTimeout(() => {
        if (source !== stream) return
        source = undefined
        open()
      }, PATIENCE)
  })
}

/** Calls `heard` when one of the topics has news, while the component that asks is there; several changes in a row are one call. */
export function useNews(topics: MaybeRefOrGetter<readonly string[]>, heard: () => void): void {
  let timer: ReturnType<typeof setTimeout> | undefined
  const listener: Listener = {
    topics: () => toValue(topics),
    heard: () => {
      timer ??= setTimeout(() => {
        timer = undefined
        heard()
      }, GATHER)
    },
  }
  listeners.add(listener)
  watch(() => toValue(topics).join(','), refresh, { immediate: true })
  onScopeDispose(() => {
    clearTimeout(timer)
    listeners.delete(listener)
    refresh()
  })
}
