import Dexie, { type EntityTable } from 'dexie'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { LoadDock } from '#contract/receive/handheld.ts'
import { type ActAnswer, answered, type DeviceAct, type KeptAct } from '#core/receive/handheld.ts'

export type Dock = ResponseOf<typeof LoadDock>
export type Line = Dock['lines'][number]
interface Meta {
  key: 'device' | 'dock' | 'sequence'
  value: unknown
}
/** A photo of what was counted: it goes to the delivery's files once its count is answered. */
export interface KeptPhoto {
  readonly id: string
  readonly actKey: string
  readonly orderId: string
  readonly name: string
  readonly type: string
  readonly bytes: ArrayBuffer
}
export type Photo = Pick<KeptPhoto, 'name' | 'type' | 'bytes'>
export type LoadedDock = Omit<Dock, 'lines'> & { loadedAt: string }

/** What a device keeps: the dock that it loaded, and every act until it is sent, also when it is closed or its battery is empty. */
class DeviceStore extends Dexie {
  lines!: EntityTable<Line, 'lineId'>
  acts!: EntityTable<KeptAct, 'key'>
  meta!: EntityTable<Meta, 'key'>
  photos!: EntityTable<KeptPhoto, 'id'>
  constructor(name = 'ivory-handheld') {
    super(name)
    this.version(1).stores({ lines: 'lineId', acts: 'key, sequence, state', meta: 'key' })
    this.version(2).stores({ photos: 'id, actKey' })
  }
}
export const openStore = (name?: string): DeviceStore => new DeviceStore(name)
export type Store = ReturnType<typeof openStore>

const read = async <T>(store: Store, key: Meta['key']): Promise<T | undefined> =>
  (await store.meta.get(key))?.value as T | undefined

/** What the device is called among others, made once. */
export async function deviceId(store: Store): Promise<string> {
  const known = await read<string>(store, 'device')
  if (known) return known
  const made = crypto.randomUUID()
  await store.meta.put({ key: 'device', value: made })
  return made
}

/** Puts another dock in place of the one that is loaded; acts stay. */
export async function keepDock(store: Store, { lines, ...dock }: Dock, loadedAt: string): Promise<void> {
  await store.transaction('rw', store.lines, store.meta, async () => {
    await store.lines.clear()
    await store.lines.bulkPut(lines)
    await store.meta.put({ key: 'dock', value: { ...dock, loadedAt } })
  })
}
export const dockOf = (store: Store): Promise<LoadedDock | undefined> => read<LoadedDock>(store, 'dock')

/** Keeps an act, and its photos, before anything else is done with it: it has its key and its place in the row from now on. */
export async function keepAct(
  store: Store,
  act: Omit<DeviceAct, 'key' | 'sequence'>,
  photos: readonly Photo[] = [],
): Promise<KeptAct> {
  return await store.transaction('rw', store.acts, store.meta, store.photos, async () => {
    const sequence = ((await read<number>(store, 'sequence')) ?? 0) + 1
    const kept: KeptAct = { ...act, key: crypto.randomUUID(), sequence, state: 'kept', reasons: [], number: '' }
    await store.meta.put({ key: 'sequence', value: sequence })
    await store.acts.add(kept)
    await store.photos.bulkAdd(photos.map(photo => ({ ...photo, id: crypto.randomUUID(), actKey: kept.key, orderId: act.orderId }))) // prettier-ignore
    return kept
  })
}

export const actsOf = (store: Store): Promise<KeptAct[]> => store.acts.orderBy('sequence').toArray()

/** Writes down what was answered. */
export async function takeAnswers(store: Store, answers: readonly ActAnswer[]): Promise<void> {
  await store.transaction('rw', store.acts, async () => {
    const known = await store.acts.bulkGet(answers.map(answer => answer.key))
    await store.acts.bulkPut(answered(known.filter(act => act !== undefined), answers)) // prettier-ignore
  })
}

/** Photos of counts that were answered: they can go. */
export async function photosToSend(store: Store): Promise<KeptPhoto[]> {
  const acts = new Map((await actsOf(store)).map(act => [act.key, act.state]))
  return (await store.photos.toArray()).filter(photo => acts.get(photo.actKey) !== 'kept')
}
export const forgetPhoto = (store: Store, id: string): Promise<void> => store.photos.delete(id)

/** Forgets what is over for a week; what is not sent or not settled is never forgotten. */
export async function tidyActs(store: Store, before: string): Promise<void> {
  await store.acts
    .where('state')
    .anyOf('taken', 'dropped')
    .filter(act => act.madeAt < before)
    .delete()
}
