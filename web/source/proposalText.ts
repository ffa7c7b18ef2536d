import { day, words } from '#web/shared/words.ts'

/** Why a supplier is proposed, as people say it: one order, several orders. */
export function proposalText(reason: {
  readonly code: string
  readonly details: Readonly<Record<string, string | number>>
}): string {
  const count = Number(reason.details.count)
  const details = {
    ...reason.details,
    day: reason.details.day ? day(String(reason.details.day)) : '',
    many: count > 1 ? count : '',
    one: count === 1 ? 1 : '',
  }
  return words({ code: reason.code, details })
}
