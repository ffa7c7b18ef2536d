import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadRequisition } from '#contract/request/endpoints.ts'
import { since } from '#web/shared/words.ts'

/** How a line compares with the last time that the same was bought: "11 % cheaper than last time, 4 months ago". */
export function lastTimeWords({
  lastTime,
}: Pick<ResponseOf<typeof ReadRequisition>['lines'][number], 'lastTime'>): string {
  if (!lastTime) return ''
  const when = since(`${lastTime.day}T00:00:00Z`)
  if (lastTime.percent === 0) return `the same price as last time, ${when}`
  return `${Math.abs(lastTime.percent)} % ${lastTime.percent > 0 ? 'dearer' : 'cheaper'} than last time, ${when}`
}
