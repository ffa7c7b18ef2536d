import type { RequestSettings } from '#contract/request/forms.ts'
import { parseAmount } from '#core/money/amount.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { RouteRule } from '#core/request/routes.ts'
import { INCOTERMS } from '#core/source/defaults.ts'
import type { Read, Write } from '#server/call.ts'
import { readSetting, writeSetting } from '#server/house/house.ts'

declare module '#server/house/house.ts' {
  interface SettingValues {
    request: Partial<RequestSettings>
  }
}

const USUAL: RequestSettings = {
  terms: { allowed: [], preferred: [], because: {} },
  routeRules: [],
  sameWords: [],
  remindAfterDays: 0,
}

/** Terms, rules of routes, words that mean the same, and reminders, from Setup. */
export async function readRequestSettings(call: Read): Promise<RequestSettings> {
  return requestSettings(await readSetting(call, 'request'))
}

/** What was set, with what is usual where nothing was. */
export const requestSettings = (value: Partial<RequestSettings> | undefined): RequestSettings => ({
  ...USUAL,
  ...value,
  terms: { ...USUAL.terms, ...value?.terms },
})

/** Amounts are kept as text and read in the base currency's digits; a rule that forbids every route would leave lines without a way out. */
export async function saveRequestSettings(call: Write, settings: RequestSettings): Promise<RequestSettings> {
  routeRules(settings, call.base)
  for (const term of [...settings.terms.allowed, ...settings.terms.preferred])
    if (!(INCOTERMS as readonly string[]).includes(term))
      throw new RuleBroken(stop('term.unknown', { incoterm: term }, { place: 'terms' }))
  const foreign = settings.terms.preferred.find(
    term => settings.terms.allowed.length > 0 && !settings.terms.allowed.includes(term),
  )
  if (foreign) throw new RuleBroken(stop('term.preferredForbidden', { incoterm: foreign }, { place: 'terms' }))
  await writeSetting(call, 'request', settings)
  return settings
}

export const routeRules = (settings: RequestSettings, base: string): RouteRule[] =>
  settings.routeRules.map(rule => ({
    ...rule,
    from: parseAmount(rule.from || '0', base),
    upTo: rule.upTo === null ? null : parseAmount(rule.upTo, base),
  }))
