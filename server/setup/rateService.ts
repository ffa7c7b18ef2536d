import type { ResponseOf } from '#contract/endpoint.ts'
import type { RATE_FAULTS, ReadRateService } from '#contract/setup/rateService.ts'
import { whyNotRate } from '#core/money/exchange.ts'
import { notEntered } from '#core/money/referenceRates.ts'
import { RuleBroken } from '#core/reasons.ts'
import type { Read, Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { HOUSE, readSetting, writeSetting } from '#server/house/house.ts'
import { inTransaction, type JobParts } from '#server/jobs/parts.ts'
import { kindTopic, tell } from '#server/news/tell.ts'
import { saveRate } from '#server/setup/centreActs.ts'
import { ratesIn } from '#server/setup/registerFiles.ts'

const TIMEOUT = 10_000
/** Bytes of a file of rates: those of ten years take less. */
const MOST_BYTES = 2_000_000
type RateService = ResponseOf<typeof ReadRateService>
type Fault = (typeof RATE_FAULTS)[number]
declare module '#server/house/house.ts' {
  interface SettingValues {
    rateService: RateService
  }
}
const NEVER: RateService = { daily: false, last: null }

export const readRateService = async (call: Pick<Read, 'trx'>): Promise<RateService> =>
  (await readSetting(call, 'rateService')) ?? NEVER

/** One after the other: two that fetch at once take each rate once, and what is said of the last time is not written over. */
const oneByOne = (call: Write): PromiseLike<unknown> =>
  call.trx.raw(`select pg_advisory_xact_lock(hashtext('rate service'))`)

async function changeService(call: Write, change: Partial<RateService>): Promise<void> {
  await oneByOne(call)
  await writeSetting(call, 'rateService', { ...(await readRateService(call)), ...change })
}

export async function saveRateService(call: Write, daily: boolean): Promise<Record<string, never>> {
  await changeService(call, { daily })
  await record(call, { kind: 'house', id: HOUSE, action: 'changed', changes: { ratesDaily: daily } })
  return {}
}

export async function askForRates(call: Write): Promise<Record<string, never>> {
  await call.trx.raw(
    `select graphile_worker.add_job('fetchRates', '{"id": "asked"}'::json, job_key => 'fetch-rates', max_attempts => 1)`,
  )
  return {}
}

/** Fetches the reference rates of the day, where somebody asked for them or wants them every day. Says how many were taken in. */
export async function fetchRates(parts: JobParts, asked: boolean): Promise<number> {
  if (!asked && !(await readRateService({ trx: parts.db })).daily) return 0
  const got = await fetched(parts.settings.ratesUrl)
  return await inTransaction(parts, async call => {
    await oneByOne(call)
    const { taken, fault } = 'fault' in got ? { taken: 0, fault: got.fault } : await takeRates(call, got.bytes)
    await changeService(call, { last: { at: call.now, taken, fault } })
    await tell(call, [kindTopic('house')])
    return taken
  })
}

async function fetched(url: string): Promise<{ bytes: Buffer } | { fault: Fault }> {
  if (url === '') return { fault: 'notConnected' }
  try {
    const answer = await fetch(url, { signal: AbortSignal.timeout(TIMEOUT) })
    if (!answer.ok || !answer.body) return { fault: 'unreachable' }
    const reader = answer.body.getReader()
    const parts: Uint8Array[] = []
    for (let size = 0; size <= MOST_BYTES;) {
      const { done, value } = await reader.read()
      if (done) return { bytes: Buffer.concat(parts) }
      size += value.length
      parts.push(value)
    }
    await reader.cancel()
    return { fault: 'unreadable' }
  } catch {
    return { fault: 'unreachable' }
  }
}

async function takeRates(call: Write, bytes: Buffer): Promise<{ taken: number; fault: Fault | null }> {
  try {
    const { rates } = await ratesIn(call, bytes)
    const fresh = notEntered(rates, await call.trx('exchangeRates')).filter(
      rate => whyNotRate(rate, call.base, undefined).length === 0,
    )
    for (const rate of fresh) await saveRate(call, rate)
    return { taken: fresh.length, fault: null }
  } catch (error) {
    if (error instanceof RuleBroken) return { taken: 0, fault: 'unreadable' }
    throw error
  }
}
