import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'

/** What stood in the way when rates were last fetched. */
export const RATE_FAULTS = ['notConnected', 'unreachable', 'unreadable'] as const

/** Whether rates are fetched by themselves on working days, and what became of the last time. */
export const ReadRateService = defineEndpoint({
  name: 'rateService.read',
  method: 'get',
  path: '/setup/rate-service',
  permission: 'setup.read',
  response: z.strictObject({
    daily: z.boolean(),
    last: z.strictObject({ at: z.string(), taken: z.int(), fault: z.enum(RATE_FAULTS).nullable() }).nullable(),
  }),
})
export const SaveRateService = defineEndpoint({
  name: 'rateService.save',
  method: 'put',
  path: '/setup/rate-service',
  permission: 'setup.write',
  body: z.strictObject({ daily: z.boolean() }),
})
/** Has them fetched now; what became of it is in the answer of `rateService.read` a moment later. */
export const FetchRates = defineEndpoint({
  name: 'rateService.fetch',
  method: 'post',
  path: '/setup/rate-service/fetches',
  permission: 'setup.write',
})
