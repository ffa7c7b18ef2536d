import { type Remote, wrap } from 'comlink'
import { computed, markRaw, onScopeDispose, ref, shallowRef, watch } from 'vue'
import { ChangeCosting, ReadCosting } from '#contract/build/costings.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { BuildFacts } from '#core/build/facts.ts'
import { api } from '#web/api.ts'
import type { CostingWorker, ShownCosting, ShownCurve, ShownFigures } from '#web/build/costingWorker.ts'
import { curveEnd } from '#web/build/costingText.ts'
import { documentTopic } from '#web/news/news.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

export type Costing = ResponseOf<typeof ReadCosting>
export type Settings = Costing['settings']
export type Parts = Costing['parts']

/** Milliseconds that a slider rests before what it says is computed whole, and before it is kept. */
const REST = 160
const KEEP_AFTER = 900
/** Parts whose rows follow a slider while it moves. */
const FOLLOWING = 60

/** A costing on a page: what is kept of it, what it comes to now, and what changes of it are kept. Everything is computed in a worker. */
export function useCosting(id: string) {
  const { data, failure, reload } = useRead(ReadCosting, () => ({ params: { id } }), {
    topics: () => [documentTopic(id)],
    keep: true,
  })
  const thread = new Worker(new URL('./costingWorker.ts', import.meta.url), { type: 'module' })
  const worker: Remote<CostingWorker> = markRaw(wrap<CostingWorker>(thread))
  const action = useAction()
  const settings = shallowRef<Settings>()
  const parts = shallowRef<Parts>({})
  const beside = shallowRef<Costing['beside']>([])
  const shown = shallowRef<ShownCosting>()
  const curve = shallowRef<ShownCurve>()
  const others = shallowRef<Readonly<Record<string, ShownFigures>>>({})
  const version = ref(0)
  const builds = ref(1)
  /** Shown rows that follow the slider. */
  const watched = ref<readonly number[]>([])
  const mayChange = computed(() => data.value?.actions.some(one => one.action === 'change' && one.possible) ?? false)
  let turn = 0
  /** Changes that are not kept yet, one after the other. */
  let waiting = 0
  let sending: Promise<void> = Promise.resolve()
  /** The slider was moved and where it rests is not kept yet. */
  let moved = false

  watch(
    data,
    async costing => {
      // what is still to be kept is newer than what the server says
      if (!costing || waiting > 0 || moved || costing.version < version.value) return
      version.value = costing.version
      settings.value = costing.settings
      parts.value = costing.parts
      beside.value = costing.beside
      builds.value = costing.settings.builds
      const facts: BuildFacts = { ...costing.known, lines: costing.lines, pricedOn: costing.pricedOn }
      await worker.load(JSON.parse(JSON.stringify(facts)) as BuildFacts)
      await compute()
    },
    { immediate: true },
  )

  /** Computes everything; what is asked meanwhile makes an older answer worthless. */
  async function compute(): Promise<void> {
    const own = ++turn
    const wanted = { ...plain(settings.value!), builds: builds.value }
    const full = await worker.full(wanted, plain(parts.value))
    if (own !== turn) return
    shown.value = full
    const line = await worker.curve(curveEnd(builds.value), builds.value)
    if (own !== turn) return
    curve.value = line
    const asked = otherSettings(wanted, beside.value)
    const figures = await worker.beside(
      asked.map(one => one.settings),
      plain(parts.value),
    )
    if (own === turn) others.value = Object.fromEntries(asked.map((one, at) => [one.key, figures[at]!]))
  }

  let resting: ReturnType<typeof setTimeout> | undefined
  let keeping: ReturnType<typeof setTimeout> | undefined
  let moving = false
  /** The slider is moved: sums and the rows that are seen follow at once, all else when it rests. */
  async function move(to: number): Promise<void> {
    builds.value = to
    clearTimeout(resting)
    clearTimeout(keeping)
    resting = setTimeout(() => void compute(), REST)
    moved = mayChange.value
    if (moved)
      keeping = setTimeout(() => {
        moved = false
        void keep({ builds: to })
      }, KEEP_AFTER)
    if (moving || !shown.value) return
    moving = true
    try {
      const quick = await worker.quick(builds.value, watched.value.slice(0, FOLLOWING))
      const rows = [...shown.value.rows]
      for (const [at, row] of quick.rows) rows[at] = row
      shown.value = { ...shown.value, rows, figures: quick.figures }
    } finally {
      moving = false
    }
  }

  /**
   * Keeps what changes: settings, parts (by their keys) and what is put beside. Where somebody else has changed the costing meanwhile, the change is made
   * again on what they left. Whoever only reads tries it on the page alone.
   */
  async function keep(change: Partial<Settings>, own: Parts = {}, kept?: Costing['beside']): Promise<void> {
    apply(change, own, kept)
    const computing = compute()
    if (mayChange.value) {
      waiting++
      sending = sending.then(() => send(change, own, kept, true)).finally(() => waiting--)
      await sending
    }
    await computing
  }
  function apply(change: Partial<Settings>, own: Parts, kept?: Costing['beside']): void {
    settings.value = { ...settings.value!, ...change }
    parts.value = { ...parts.value, ...own }
    if (kept) beside.value = kept
    builds.value = settings.value.builds
  }
  async function send(
    change: Partial<Settings>,
    own: Parts,
    kept: Costing['beside'] | undefined,
    again: boolean,
  ): Promise<void> {
    const body = {
      version: version.value,
      title: data.value!.title,
      settings: { ...settings.value!, builds: builds.value },
      parts: parts.value,
      beside: beside.value,
    }
    const done = await action.run(() => api(ChangeCosting, { params: { id }, body }))
    if (done) {
      version.value = done.version
      return
    }
    const changed = action.reasons.value.some(one => one.code === 'document.changed')
    if (!again || !changed) return
    await reload()
    const now = data.value!
    version.value = now.version
    settings.value = now.settings
    parts.value = now.parts
    beside.value = now.beside
    apply(change, own, kept)
    await send(change, own, kept, false)
    await compute()
  }

  onScopeDispose(() => {
    clearTimeout(resting)
    clearTimeout(keeping)
    thread.terminate()
    // where the slider was left is kept although nobody waits for it any more
    if (moved) sending = sending.then(() => send({ builds: builds.value }, {}, undefined, false))
  })
  return {
    data,
    failure,
    reload,
    settings,
    parts,
    beside,
    builds,
    shown,
    curve,
    others,
    version,
    mayChange,
    watched,
    worker,
    action,
    move,
    keep,
    compute,
  }
}

const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

/** What is always held beside: the same by every policy; and what somebody has put there. */
function otherSettings(own: Settings, beside: Costing['beside']): { key: string; settings: Settings }[] {
  const policies = ['cheapest', 'fewest', 'earliest', 'bestScore'] as const
  return [
    ...policies.filter(policy => policy !== own.policy).map(policy => ({ key: policy, settings: { ...own, policy } })),
    ...beside.map(one => ({ key: `kept ${one.name}`, settings: { ...plain(one.settings), builds: own.builds } })),
  ]
}
