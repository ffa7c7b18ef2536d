import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import { ReadBasket, RequestBasket, SaveBasket } from '#contract/request/catalogue.ts'
import { api, Refused } from '#web/api.ts'

type Line = ResponseOf<typeof ReadBasket>['lines'][number]
type Wanted = Pick<Line, 'itemId' | 'offerId' | 'quantity'> & { unit?: string }

/** The basket is kept on the server: it is there after signing out, and on another machine. What it refuses leaves it as it was. */
export const useBasket = defineStore('basket', () => {
  const lines = ref<Line[]>([])
  const reasons = shallowRef<readonly ReasonJson[]>([])
  const load = async (): Promise<void> => {
    lines.value = (await api(ReadBasket)).lines
  }
  async function save(next: Wanted[]): Promise<boolean> {
    reasons.value = []
    try {
      await api(SaveBasket, {
        body: {
          lines: next.map(({ itemId, offerId, quantity, unit }) => ({
            itemId,
            offerId,
            quantity,
            ...(unit ? { unit } : {}),
          })),
        },
      })
      return true
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      reasons.value = error.reasons
      return false
    } finally {
      await load()
    }
  }
  const put = (line: Wanted): Promise<boolean> => {
    const known = lines.value.some(one => one.offerId === line.offerId)
    return save(known ? lines.value.map(one => (one.offerId === line.offerId ? line : one)) : [...lines.value, line])
  }
  const takeOut = (offerId: string): Promise<boolean> => save(lines.value.filter(one => one.offerId !== offerId))
  const request = async (): Promise<string> => {
    const { id } = await api(RequestBasket)
    await load()
    return id
  }
  return { lines, reasons, load, put, takeOut, request }
})
