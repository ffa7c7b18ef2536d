import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ColumnLookJson } from '#contract/lists/views.ts'

const subject = z.string().max(40)
const Clock = z.string().regex(/^(([01]\d|2[0-3]):(00|15|30|45))?$/)
/** Something that the interface remembers of a person, wherever they sign in. `subject` is what it is about: a list, a stage. */
export const PreferenceJson = z.discriminatedUnion('key', [
  /** How the columns of a list are seen where no saved view says it. */
  z.strictObject({ key: z.literal('columns'), subject, value: z.array(ColumnLookJson).max(60) }),
  /** The view that a list begins with: one of its own by its name, or a saved one by its id. */
  z.strictObject({ key: z.literal('start'), subject, value: z.string().max(40) }),
  /** Per cent of the width that the list of a stage takes. */
  z.strictObject({ key: z.literal('split'), subject, value: z.int().min(10).max(90) }),
  z.strictObject({ key: z.literal('wide'), subject, value: z.boolean() }),
  z.strictObject({ key: z.literal('margin'), subject, value: z.boolean() }),
  /** Groups of the Desk that are folded. */
  z.strictObject({ key: z.literal('folded'), subject, value: z.array(z.string().max(40)).max(60) }),
  /** When mails about the work come; HH:MM of the person's own clock, empty for no quiet hours. */
  z.strictObject({
    key: z.literal('mails'),
    subject,
    value: z.strictObject({
      when: z.enum(['atOnce', 'daily', 'never']),
      quietFrom: Clock,
      quietTo: Clock,
      decisions: z.enum(['full', 'short']).optional(),
    }),
  }),
  z.strictObject({ key: z.literal('density'), subject, value: z.enum(['calm', 'dense']) }),
  /** The page after signing in. */
  z.strictObject({
    key: z.literal('startPage'),
    subject,
    value: z.enum(['desk', 'source', 'request', 'decide', 'order', 'receive', 'bill', 'pay', 'insight']),
  }),
])
export type PreferenceJson = z.output<typeof PreferenceJson>

export const ReadPreferences = defineEndpoint({
  name: 'preferences.read',
  method: 'get',
  path: '/preferences',
  permission: 'signedIn',
  response: z.strictObject({ preferences: z.array(PreferenceJson) }),
})
export const KeepPreference = defineEndpoint({
  name: 'preferences.keep',
  method: 'put',
  path: '/preferences',
  permission: 'signedIn',
  body: PreferenceJson,
})
