import { defineStore } from 'pinia'
import { ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadBasket, RequestBasket, SaveBasket } from '#contract/request/endpoints.ts'
import { api } from '#web/api.ts'

type Line = ResponseOf<typeof ReadBasket>['lines'][number]

/** The basket is kept on the server: it is there after signing out, and on another machine. */
export const useBasket = defineStore('basket', () => {
  const lines = ref<Line[]>([])
  const load = async (): Promise<void> => {
    lines.value = (await api(ReadBasket)).lines
  }
  async function put(line: { itemId: string; offerId: string; quantity: string }): Promise<void> {
    const others = lines.value.filter(one => one.offerId !== line.offerId)
    const next = [...others, line].filter(one => Number(one.quantity) > 0).map(({ itemId, offerId, quantity }) => ({ itemId, offerId, quantity }))
    await api(SaveBasket, { body: { lines: next } })
    await load()
  }
  const request = async (): Promise<string> => {
    const { id } = await api(RequestBasket)
    await load()
    return id
  }
  return { lines, load, put, request }
})
