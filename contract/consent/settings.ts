import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, DecimalText } from '#contract/fields.ts'
import { EDIT_EFFECTS, EDIT_FIELDS, type EditEffect, type EditField } from '#core/consent/settings.ts'

const Clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/)
const Share = DecimalText.refine(text => !text.startsWith('-'), { error: 'not less than nothing' })
const Effects = z
  .record(z.enum(EDIT_FIELDS), z.enum(EDIT_EFFECTS))
  .refine((fields: Readonly<Record<EditField, EditEffect>>) => fields.words !== 'again', {
    error: 'spelling asks nobody again',
    path: ['words'],
  })

/** How decisions are asked for and what a change of what is decided leads to; amounts in the base currency. */
export const DecideSettingsJson = z
  .strictObject({
    hoursFrom: Clock,
    hoursTo: Clock,
    remindPercent: z.int().min(0).max(95),
    wayDays: z.int().min(1).max(60),
    secondFrom: AmountText,
    addByHand: z.boolean(),
    editing: z.strictObject({
      byDeciders: z.boolean(),
      fields: Effects,
      tolerance: AmountText,
      tolerancePercent: Share,
      decreases: z.boolean(),
      again: z.enum(['new', 'all']),
    }),
  })
  .refine(one => one.hoursFrom < one.hoursTo, { error: 'ends after it begins', path: ['hoursTo'] })
export type DecideSettingsJson = z.output<typeof DecideSettingsJson>

export const ReadDecideSettings = defineEndpoint({
  name: 'decideSettings.read',
  method: 'get',
  path: '/setup/decisions',
  permission: 'requisition.write',
  response: DecideSettingsJson,
})
export const SaveDecideSettings = defineEndpoint({
  name: 'decideSettings.save',
  method: 'put',
  path: '/setup/decisions',
  permission: 'setup.write',
  body: DecideSettingsJson,
  response: DecideSettingsJson,
})
