import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Line, Stamp, Uuid, Zone } from '#contract/fields.ts'
import { PersonJson } from '#contract/people/endpoints.ts'

/** A password as somebody typed it: its length is the core's to judge, so that the words are the same everywhere. */
export const TypedPassword = z.string().max(500)
const Code = z.string().max(20)
const Token = z.string().regex(/^[A-Za-z0-9_-]{20,100}$/)
const Entered = z.strictObject({ person: PersonJson })

export const OwnSession = z.strictObject({
  id: Uuid,
  createdAt: Stamp,
  seenAt: Stamp,
  expiresAt: Stamp,
  agent: z.string(),
  network: z.string(),
  current: z.boolean(),
})
/** What somebody can see and change of their own account. */
export const ReadAccount = defineEndpoint({
  name: 'account.read',
  method: 'get',
  path: '/account',
  permission: 'account',
  response: z.strictObject({
    name: z.string(),
    email: z.string(),
    hasPassword: z.boolean(),
    secondFactorSince: Stamp.nullable(),
    /** Whether one of their roles must have a second factor. */
    secondFactorDue: z.boolean(),
    sessions: z.array(OwnSession),
  }),
})
export const ChangePassword = defineEndpoint({
  name: 'account.password',
  method: 'put',
  path: '/account/password',
  permission: 'account',
  body: z.strictObject({ present: TypedPassword, password: TypedPassword }),
})
/** Ways of writing dates and figures that one can choose. */
export const LOCALES = [
  'en-GB',
  'en-US',
  'de-DE',
  'de-CH',
  'fr-FR',
  'nl-NL',
  'nb-NO',
  'sv-SE',
  'da-DK',
  'es-ES',
  'it-IT',
  'pl-PL',
] as const
/** How dates and figures are written for this person, and in which time zone. */
export const SavePersonal = defineEndpoint({
  name: 'account.personal',
  method: 'put',
  path: '/account/personal',
  permission: 'account',
  body: z.strictObject({ locale: z.enum(LOCALES), timeZone: Zone }),
})
/** Ends one session, or every one but this. */
export const EndSession = defineEndpoint({
  name: 'account.endSession',
  method: 'delete',
  path: '/account/sessions/:id',
  permission: 'account',
  params: ById,
})
export const EndOtherSessions = defineEndpoint({
  name: 'account.endOthers',
  method: 'delete',
  path: '/account/sessions',
  permission: 'account',
  response: z.strictObject({ ended: z.int() }),
})

/** Proves the second factor after a right password. */
export const ProveCode = defineEndpoint({
  name: 'session.code',
  method: 'post',
  path: '/session/code',
  permission: 'anyone',
  body: z.strictObject({ code: Code }),
  response: Entered,
})
/** A secret for an authenticator (RFC 6238), also as a picture; it holds when a code of it was shown. */
export const StartSecondFactor = defineEndpoint({
  name: 'account.startSecondFactor',
  method: 'post',
  path: '/account/second-factor',
  permission: 'anyone',
  response: z.strictObject({ secret: z.string(), uri: z.string(), picture: z.string() }),
})
export const ConfirmSecondFactor = defineEndpoint({
  name: 'account.confirmSecondFactor',
  method: 'put',
  path: '/account/second-factor',
  permission: 'anyone',
  body: z.strictObject({ secret: z.string().regex(/^[A-Z2-7]{16,64}$/), code: Code }),
})
export const EndSecondFactor = defineEndpoint({
  name: 'account.endSecondFactor',
  method: 'post',
  path: '/account/second-factor/end',
  permission: 'account',
  body: z.strictObject({ code: Code }),
})

/** Sends a link to choose a new password, if there is such an account; the answer is the same if there is none. */
export const AskReset = defineEndpoint({
  name: 'account.askReset',
  method: 'post',
  path: '/account/reset',
  permission: 'anyone',
  body: z.strictObject({ email: Line.min(3) }),
})
export const ReadLink = defineEndpoint({
  name: 'link.read',
  method: 'get',
  path: '/links/:token',
  permission: 'anyone',
  params: z.strictObject({ token: Token }),
  response: z.strictObject({
    purpose: z.enum(['invitation', 'reset']),
    name: z.string(),
    email: z.string(),
    until: Stamp,
  }),
})
/** Uses a link up: chooses the password, ends every earlier session, and comes in. */
export const UseLink = defineEndpoint({
  name: 'link.use',
  method: 'post',
  path: '/links/:token',
  permission: 'anyone',
  params: z.strictObject({ token: Token }),
  body: z.strictObject({ password: TypedPassword }),
  response: z.strictObject({ person: PersonJson.nullable() }),
})
