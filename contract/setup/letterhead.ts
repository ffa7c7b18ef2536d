import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { Line, Uuid } from '#contract/fields.ts'

/** Our sign on printed documents, as a `data:` address, and as whom our mails come. */
export const ReadLetterhead = defineEndpoint({
  name: 'letterhead.read',
  method: 'get',
  path: '/setup/letterhead',
  permission: 'setup.read',
  response: z.strictObject({ logo: z.string().nullable(), name: z.string(), replyTo: z.string(), seen: z.string() }),
})
/** Gives the house a sign that was uploaded before, or takes it away. */
export const SetLogo = defineEndpoint({
  name: 'letterhead.logo',
  method: 'put',
  path: '/setup/letterhead/logo',
  permission: 'setup.write',
  body: z.strictObject({ fileId: Uuid.nullable() }),
})
/** As whom our mails come: no name is the house's, no address to answer to is the one that they leave from, which is the operator's. */
export const SaveMailSender = defineEndpoint({
  name: 'letterhead.sender',
  method: 'put',
  path: '/setup/letterhead/sender',
  permission: 'setup.write',
  body: z.strictObject({
    name: Line.max(120),
    replyTo: z.union([z.literal(''), z.email().max(200)]),
    seen: z.string().max(100),
  }),
})
