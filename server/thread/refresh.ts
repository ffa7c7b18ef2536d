import type { Write } from '#server/call.ts'

/** Documents of which something has changed that others show. */
export interface Touched {
  readonly orderIds: readonly string[]
  readonly requisitionIds: readonly string[]
  readonly invoiceIds: readonly string[]
  readonly agreementIds: readonly string[]
  /** Lines of orders of which less is proven than before. */
  readonly unprovenIds: readonly string[]
  /** Suppliers whose bills are judged by other facts than before; `EVERYBODY` for those of all. */
  readonly judgedOf: readonly string[]
}
export const EVERYBODY = 'everybody'

/** What a stage keeps in step with its thread: figures beside its rows, matches, what waits for whom. */
export type Refresher = (call: Write, touched: Touched) => Promise<Partial<Touched> | undefined>

const refreshers: { readonly stage: string; readonly refresh: Refresher }[] = []

/** A stage says once what it keeps in step. Stages are refreshed in the order of the work. */
export function keepsInStep(stage: string, refresh: Refresher): void {
  if (!refreshers.some(one => one.stage === stage)) refreshers.push({ stage, refresh })
}

const together = (some: readonly Partial<Touched>[], of: keyof Touched): string[] => [
  ...new Set(some.flatMap(one => one[of] ?? [])),
]

/**
 * Brings along everything that shows something of these documents, in the transaction that changed them. A stage may touch more (an order's
 * requests), which the stages after it see.
 */
export async function refreshThread(call: Write, touched: Partial<Touched>): Promise<void> {
  let all = merged(touched)
  const ids: readonly string[][] = Object.values(all)
  if (ids.every(some => some.length === 0)) return
  for (const { refresh } of refreshers) all = merged(all, (await refresh(call, all)) ?? {})
}

/** All that was touched, each document once. */
export const merged = (...some: readonly Partial<Touched>[]): Touched => ({
  orderIds: together(some, 'orderIds'),
  requisitionIds: together(some, 'requisitionIds'),
  invoiceIds: together(some, 'invoiceIds'),
  agreementIds: together(some, 'agreementIds'),
  unprovenIds: together(some, 'unprovenIds'),
  judgedOf: together(some, 'judgedOf'),
})
