import { Attach } from '#contract/files/endpoints.ts'
import { SendActs } from '#contract/receive/handheld.ts'
import { toSend } from '#core/receive/handheld.ts'
import { api, Refused, upload } from '#web/api.ts'
import {
  actsOf,
  deviceId,
  forgetPhoto,
  type KeptPhoto,
  photosToSend,
  type Store,
  takeAnswers,
} from '#web/handheld/device.ts'

const AT_ONCE = 50

/**
 * Sends what is not sent, in its order; two pages of one device never at once. What was answered is written down before the next is sent; an answer that
 * was lost is asked for again with the same keys, and counts once. True: all is sent.
 */
export async function sendKept(store: Store, post = send): Promise<boolean> {
  return await alone(async () => {
    for (;;) {
      const acts = toSend(await actsOf(store)).slice(0, AT_ONCE)
      if (acts.length === 0) return true
      const { answers } = await post(await deviceId(store), acts.map(({ state: _state, reasons: _reasons, number: _number, ...act }) => act)) // prettier-ignore
      await takeAnswers(store, answers)
      if (answers.length === 0) return false
    }
  })
}

/** Sends photos of what was counted, one by one, each forgotten once it is there; one that the server will never take is forgotten, too. How many were refused. */
export async function sendPhotos(store: Store, post = hangOn): Promise<number> {
  return await alone(async () => {
    let refused = 0
    for (const photo of await photosToSend(store)) {
      try {
        await post(photo)
      } catch (error) {
        if (!(error instanceof Refused) || error.status === 401 || error.status >= 500) throw error
        refused++
      }
      await forgetPhoto(store, photo.id)
    }
    return refused
  })
}

async function hangOn({ orderId, name, type, bytes }: KeptPhoto): Promise<void> {
  const { id } = await upload(new File([bytes], name, { type }))
  await api(Attach, { body: { documentKind: 'delivery', documentId: orderId, fileId: id } })
}

const send = (device: string, acts: readonly unknown[]) =>
  api(SendActs, { body: { deviceId: device, deviceNow: new Date().toISOString(), acts: acts as never } })

async function alone<T>(work: () => Promise<T>): Promise<T> {
  if (typeof navigator === 'undefined' || !('locks' in navigator)) return await work()
  return (await navigator.locks.request('ivory-handheld-send', work)) as T
}
