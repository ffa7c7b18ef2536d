<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, onMounted, onUnmounted, ref, shallowRef } from 'vue'
import { LoadDock, LookUp, SettleAct } from '#contract/receive/handheld.ts'
import { say } from '#contract/messages/say.ts'
import { type KeptAct, openHere, toSend } from '#core/receive/handheld.ts'
import { meant, readScan, type Scan } from '#core/receive/scan.ts'
import { api, Refused } from '#web/api.ts'
import CameraField from '#web/handheld/CameraField.vue'
import CountCard from '#web/handheld/CountCard.vue'
import {
  actsOf,
  type Dock,
  dockOf,
  keepAct,
  photosToSend,
  keepDock,
  type Line,
  type LoadedDock,
  openStore,
  takeAnswers,
  tidyActs,
} from '#web/handheld/device.ts'
import { sendKept, sendPhotos } from '#web/handheld/sending.ts'
import { signal } from '#web/handheld/signals.ts'

/** The dock in the hand: what is expected, counting it, what is not sent yet, what has to be settled. All of it works without a network. */
const store = openStore()
const dock = shallowRef<LoadedDock>()
const lines = shallowRef<readonly Line[]>([])
const acts = shallowRef<readonly KeptAct[]>([])
const online = ref(navigator.onLine)
const text = ref('')
const said = ref('')
const line = shallowRef<Line>()
const scan = shallowRef<Scan>()
const camera = ref(false)
const busy = ref(false)
const needsSignIn = ref(false)
const waiting = computed(() => toSend(acts.value))
const settling = computed(() => acts.value.filter(act => act.state === 'settle'))
const WEEK = 7 * 24 * 3600 * 1000
const SHOWN = 60
const DONE = 8
const RETRY = 15_000
const found = computed(() => {
  const read = readScan(text.value)
  return text.value.trim() === '' ? lines.value : meant(read, lines.value)
})
const open = (one: Line): string => openHere(one, acts.value)
const state = computed(
  () =>
    [online.value ? '' : 'no network', waiting.value.length ? `${waiting.value.length} not sent` : '']
      .filter(Boolean)
      .join(' · ') || 'all sent',
)

async function refresh(): Promise<void> {
  dock.value = await dockOf(store)
  lines.value = await store.lines.toArray()
  acts.value = await actsOf(store)
}
async function load(placeId = dock.value?.placeId): Promise<void> {
  busy.value = true
  try {
    const loaded: Dock = await api(LoadDock, { query: placeId ? { placeId } : {} })
    await keepDock(store, loaded, new Date().toISOString())
    await tidyActs(store, new Date(Date.now() - WEEK).toISOString())
    needsSignIn.value = false
    said.value = `${loaded.lines.length} lines are loaded.`
  } catch (error) {
    fault(error)
  }
  busy.value = false
  await refresh()
}
function fault(error: unknown): void {
  needsSignIn.value = error instanceof Refused && error.status === 401
  said.value = needsSignIn.value
    ? 'Sign in: what you counted is kept here until then.'
    : error instanceof Refused
      ? error.reasons.map(one => say(one.code, one.details)).join(' ')
      : 'No network: what you counted is kept here.'
}
async function send(): Promise<void> {
  if (busy.value || (toSend(acts.value).length === 0 && (await photosToSend(store)).length === 0)) return
  busy.value = true
  try {
    await sendKept(store)
    if ((await sendPhotos(store)) > 0) said.value = 'A photo was not taken: it is no picture, or too large.'
    online.value = true
  } catch (error) {
    fault(error)
  }
  busy.value = false
  await refresh()
}
function choose(one: Line, by?: Scan): void {
  scan.value = by
  line.value = one
  said.value = ''
}
async function enter(): Promise<void> {
  const read = readScan(text.value, dock.value?.today)
  if (read.reasons.length > 0) {
    signal('stop')
    said.value = read.reasons.map(one => say(one.code, one.details)).join(' ')
    return
  }
  const hits = meant(read, lines.value)
  if (hits.length === 1) {
    signal('done')
    text.value = ''
    choose(hits[0]!, read)
  } else if (hits.length > 1) said.value = `${hits.length} lines: choose one.`
  else await lookElsewhere()
}
/** What was not loaded can still be found where there is a network: it is in already, or for another dock. */
async function lookElsewhere(): Promise<void> {
  signal('stop')
  try {
    const { found: elsewhere } = await api(LookUp, { query: { q: text.value } })
    said.value = elsewhere.length
      ? elsewhere
          .map(
            one =>
              `${one.number}, ${one.description}: ${one.open === '0' ? 'is in' : `${one.open} open, another dock`}`,
          )
          .join('. ')
      : 'Nothing open has that number.'
  } catch {
    said.value = 'Not among what is loaded, and there is no network to ask.'
  }
}
async function count(act: Parameters<typeof keepAct>[1], photos: Parameters<typeof keepAct>[2]): Promise<void> {
  try {
    await keepAct(store, act, photos)
  } catch (error) {
    signal('stop')
    said.value =
      error instanceof DOMException || (error as Error).name === 'QuotaExceededError'
        ? 'The device is full: send first, or free some room. Nothing was counted.'
        : String(error)
    return
  }
  signal('done')
  line.value = undefined
  await refresh()
  void send()
}
async function settle(act: KeptAct, how: 'again' | 'drop'): Promise<void> {
  try {
    const reason = how === 'again' ? 'Tried again on the handheld.' : 'Let go on the handheld.'
    await takeAnswers(store, [await api(SettleAct, { params: { key: act.key }, body: { how, reason } })])
  } catch (error) {
    fault(error)
  }
  await refresh()
}
const lineOf = (act: KeptAct): Line | undefined => lines.value.find(one => one.lineId === act.count.lineId)
const nameOf = (act: KeptAct): string => `${lineOf(act)?.description ?? 'A line'}, ${act.count.quantity}`
const time = (at: string): string => new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
const STATES = { kept: 'not sent', taken: 'counted', settle: 'to settle', dropped: 'let go' }
const recent = computed(() => [...acts.value].reverse().slice(0, DONE))
const connected = (): void => {
  online.value = true
  void send()
}
const cut = (): void => {
  online.value = false
}
const timer = setInterval(() => void send(), RETRY)
onMounted(async () => {
  window.addEventListener('online', connected)
  window.addEventListener('offline', cut)
  await navigator.storage?.persist?.()
  await refresh()
  if (!dock.value) await load()
  else await send()
})
onUnmounted(() => {
  clearInterval(timer)
  window.removeEventListener('online', connected)
  window.removeEventListener('offline', cut)
})
</script>

<template>
  <header class="head">
    <b>{{ dock?.places.find(one => one.id === dock!.placeId)?.label ?? 'Handheld' }}</b><span
      :class="{ warn: !online || waiting.length > 0 }"
      data-test="net"
      >{{ state }}</span
    >
  </header>
  <main>
    <p v-if="said" class="said" role="status" data-test="said">
      {{ said }} <a v-if="needsSignIn" href="/sign-in?to=/handheld/">Sign in</a>
    </p>
    <CountCard
      v-if="line && dock"
      :key="line.lineId"
      :line="line"
      :open="open(line)"
      :dock="dock"
      :scan="scan"
      :acts="acts"
      @count="count"
      @leave="line = undefined"
    />
    <template v-else
      ><div class="find">
        <ElInput
          v-model="text"
          size="large"
          autofocus
          inputmode="search"
          placeholder="Scan, or type a number"
          aria-label="Scan, or type a number"
          data-test="find"
          @keydown.enter.prevent="enter"
        /><ElButton size="large" aria-label="Camera" data-test="camera" @click="camera = !camera">▥</ElButton>
      </div>
      <CameraField
        v-if="camera"
        @found="
          code => {
            text = code
            camera = false
            enter()
          }
        "
      />
      <section v-if="settling.length" data-test="to-settle">
        <h2>To settle</h2>
        <div v-for="act in settling" :key="act.key" class="act">
          <p>
            {{ nameOf(act)
            }}<small class="stop">{{ act.reasons.map(one => say(one.code, one.details)).join(' ') }}</small>
          </p>
          <ElButton size="large" data-test="settle-again" @click="settle(act, 'again')">Try again</ElButton
          ><ElButton size="large" data-test="settle-drop" @click="settle(act, 'drop')">Let it go</ElButton>
        </div>
      </section>
      <section v-if="recent.length">
        <h2>Counted here</h2>
        <p v-for="act in recent" :key="act.key" class="act" data-test="act">
          <span
            >{{ nameOf(act)
            }}<small :class="{ stop: act.state === 'settle', warn: act.state === 'kept' }"
              >{{ time(act.madeAt) }}, {{ STATES[act.state] }} {{ act.number }}</small
            ></span
          >
        </p>
      </section>
      <h2>Expected</h2>
      <ElButton
        v-for="one in found.slice(0, SHOWN)"
        :key="one.lineId"
        class="line"
        text
        data-test="line"
        @click="choose(one)"
        ><span
          ><b>{{ one.description }}</b
          ><small>{{ one.order }}, {{ one.supplier }}{{ one.expectedOn ? `, ${one.expectedOn}` : '' }}</small></span
        ><span class="open">{{ one.blind ? '' : open(one) }}</span></ElButton
      >
      <p v-if="found.length > SHOWN" class="quiet">{{ found.length - SHOWN }} more: scan or type.</p>
      <p v-if="dock && lines.length === 0" class="quiet">Nothing is expected at this dock.</p>
      <p class="tools">
        <ElButton size="large" :disabled="busy || !online" data-test="load" @click="load()">Load anew</ElButton
        ><ElButton v-if="waiting.length" size="large" :disabled="busy" data-test="send" @click="send"
          >Send now</ElButton
        >
      </p>
      <p class="places">
        <ElButton
          v-for="place in dock?.places"
          :key="place.id"
          size="large"
          :type="place.id === dock?.placeId ? 'primary' : undefined"
          :disabled="!online"
          @click="load(place.id)"
          >{{ place.label }}</ElButton
        >
      </p></template
    >
  </main>
</template>
