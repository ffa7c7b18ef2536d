import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { Line, Stamp, Uuid } from '#contract/fields.ts'
import { PreferenceJson } from '#contract/people/preferences.ts'
import { PERMISSIONS } from '#contract/permissions.ts'

export const PersonJson = z.strictObject({
  id: Uuid,
  name: z.string(),
  email: z.string(),
  realm: z.enum(['team', 'supplier']),
  company: z.string().nullable(),
  permissions: z.array(z.enum(PERMISSIONS)),
  locale: z.string(),
  timeZone: z.string(),
})
export type PersonJson = z.output<typeof PersonJson>
const DemoPerson = z.strictObject({ id: Uuid, name: z.string(), role: z.string(), company: z.string().nullable() })

export const ReadSession = defineEndpoint({
  name: 'session.read',
  method: 'get',
  path: '/session',
  permission: 'anyone',
  response: z.strictObject({
    person: PersonJson.nullable(),
    /** What the interface remembers of the person. */
    preferences: z.array(PreferenceJson),
    /** What is still to come after a right password: a code, or the setting of a second factor. */
    pending: z.enum(['code', 'enrol']).nullable(),
    /** The house's name; empty while nobody has set it up. */
    house: z.string(),
    /** Languages that the house writes to outsiders in. */
    languages: z.array(z.string()),
    /** Units that are offered where one is chosen. */
    units: z.array(z.string()),
    /** What the house calls its single sign-on, where it has one. */
    single: z.string().nullable(),
    demo: z.boolean(),
    demoPeople: z.array(DemoPerson),
    /** The server's time, from when on news are wanted. */
    at: Stamp,
    today: z.string(),
    baseCurrency: z.string(),
  }),
})
export const SignIn = defineEndpoint({
  name: 'session.signIn',
  method: 'post',
  path: '/session',
  permission: 'anyone',
  body: z.strictObject({ email: z.string().max(200), password: z.string().max(500) }),
  response: z.strictObject({ person: PersonJson.nullable(), pending: z.enum(['code', 'enrol']).nullable() }),
})
export const SignInDemo = defineEndpoint({
  name: 'session.signInDemo',
  method: 'post',
  path: '/session/demo',
  permission: 'anyone',
  body: z.strictObject({ personId: Uuid }),
  response: z.strictObject({ person: PersonJson }),
})
export const SignOut = defineEndpoint({
  name: 'session.signOut',
  method: 'delete',
  path: '/session',
  permission: 'anyone',
})

export const Found = z.strictObject({
  kind: z.string(),
  path: z.string(),
  label: z.string(),
  detail: z.string(),
  exact: z.boolean(),
})
export const Find = defineEndpoint({
  name: 'find',
  method: 'get',
  path: '/find',
  permission: 'signedIn',
  query: z.strictObject({ q: Line }),
  response: z.strictObject({ found: z.array(Found) }),
})
