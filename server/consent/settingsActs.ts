import type { DecideSettingsJson } from '#contract/consent/settings.ts'
import type { DecideSettings } from '#core/consent/settings.ts'
import { formatAmount, minor, parseAmount } from '#core/money/amount.ts'
import type { Read, Write } from '#server/call.ts'
import { decideSettings } from '#server/consent/clock.ts'
import { record } from '#server/documents/history.ts'
import { HOUSE, writeSetting } from '#server/house/house.ts'

/** How decisions are asked for, with amounts as people write them. */
export async function readDecideSettings(call: Read): Promise<DecideSettingsJson> {
  const settings = await decideSettings(call)
  const written = (amount: string): string => formatAmount(minor(BigInt(amount)), call.base)
  const { editing } = settings
  return {
    ...settings,
    secondFrom: written(settings.secondFrom),
    editing: { ...editing, fields: { ...editing.fields }, tolerance: written(editing.tolerance) },
  }
}

/** Keeps them; an amount below nothing is none. */
export async function saveDecideSettings(call: Write, body: DecideSettingsJson): Promise<DecideSettingsJson> {
  const kept = (amount: string): string => parseAmount(amount.replace('-', ''), call.base).toString()
  const settings: DecideSettings = {
    ...body,
    secondFrom: kept(body.secondFrom),
    editing: { ...body.editing, tolerance: kept(body.editing.tolerance) },
  }
  const before = await decideSettings(call)
  await writeSetting(call, 'decide', settings)
  await record(call, { kind: 'house', id: HOUSE, action: 'changed', changes: { before, after: settings } })
  return await readDecideSettings(call)
}
