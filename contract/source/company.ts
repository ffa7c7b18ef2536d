import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { TypedPassword } from '#contract/account/endpoints.ts'
import { ById, Done, GivenReason, Line, Stamp, Uuid, Version } from '#contract/fields.ts'
import { PersonJson } from '#contract/people/endpoints.ts'
import { SUPPLIER_PERMISSIONS } from '#contract/permissions.ts'
import { AnswersJson, SectionJson } from '#contract/source/onboarding.ts'

const Token = z.strictObject({ token: z.string().regex(/^[A-Za-z0-9_-]{20,80}$/) })

/** What an invitation says before anybody is signed in. */
export const ReadInvitation = defineEndpoint({
  name: 'registration.read',
  method: 'get',
  path: '/invitations/:token',
  permission: 'anyone',
  params: Token,
  response: z.strictObject({
    kind: z.enum(['company', 'person']),
    company: z.string(),
    name: z.string(),
    email: z.string(),
    house: z.string(),
    until: Stamp,
  }),
})
/** Uses the invitation up: the person gets an account, and comes in. */
export const Register = defineEndpoint({
  name: 'registration.register',
  method: 'post',
  path: '/invitations/:token',
  permission: 'anyone',
  params: Token,
  body: z.strictObject({ name: Line.min(1), password: TypedPassword }),
  response: z.strictObject({ person: PersonJson }),
})

export const ReadCompany = defineEndpoint({
  name: 'company.read',
  method: 'get',
  path: '/company',
  permission: 'supplierPages.company',
  response: z.strictObject({
    supplierId: Uuid,
    name: z.string(),
    number: z.string(),
    state: z.string(),
    /** The onboarding that is open, else null: then answers are revisions. */
    onboarding: z
      .strictObject({
        id: Uuid,
        number: z.string(),
        state: z.string(),
        version: z.int(),
        submittedAt: Stamp.nullable(),
      })
      .nullable(),
    sections: z.array(SectionJson),
    answers: AnswersJson,
    asks: z.array(z.strictObject({ key: z.string(), question: z.string(), by: z.string(), answered: z.boolean() })),
    waiting: z.array(
      z.strictObject({ key: z.string(), label: z.string(), before: z.string(), after: z.string(), at: Stamp }),
    ),
    refused: z.array(z.strictObject({ key: z.string(), label: z.string(), after: z.string(), reason: z.string() })),
    harmless: z.array(z.string()),
  }),
})
/** Keeps answers half-way; nothing is checked but their form. */
export const SaveAnswers = defineEndpoint({
  name: 'company.save',
  method: 'put',
  path: '/company/answers',
  permission: 'supplierPages.company',
  body: z.strictObject({ answers: AnswersJson, version: Version }),
  response: z.strictObject({ version: z.int(), savedAt: Stamp }),
})
export const SubmitAnswers = defineEndpoint({
  name: 'company.submit',
  method: 'post',
  path: '/company/submission',
  permission: 'supplierPages.company',
  body: z.strictObject({ answers: AnswersJson, version: Version }),
  response: Done,
})
/** Changes answers after the onboarding: harmless fields at once, the others when the buyer accepts them. */
export const ReviseAnswers = defineEndpoint({
  name: 'company.revise',
  method: 'post',
  path: '/company/revisions',
  permission: 'supplierPages.company',
  body: z.strictObject({ answers: AnswersJson }),
  response: z.strictObject({ atOnce: z.int(), waiting: z.int() }),
})
export const UploadCompanyFile = defineEndpoint({
  name: 'company.upload',
  method: 'post',
  path: '/company/files',
  permission: 'supplierPages.company',
  takes: 'file',
  response: z.strictObject({ id: Uuid, name: z.string(), mediaType: z.string(), size: z.int() }),
})

export const SUPPLIER_MESSAGES = ['orders', 'invoices', 'payments', 'certificates', 'company'] as const
export const ReadCompanyPeople = defineEndpoint({
  name: 'company.people',
  method: 'get',
  path: '/company/people',
  permission: 'supplierPages.people',
  response: z.strictObject({
    people: z.array(
      z.strictObject({
        id: Uuid,
        name: z.string(),
        email: z.string(),
        active: z.boolean(),
        administrator: z.boolean(),
        registered: z.boolean(),
        roleId: Uuid.nullable(),
        me: z.boolean(),
        version: z.int(),
      }),
    ),
    roles: z.array(
      z.strictObject({
        id: Uuid,
        name: z.string(),
        permissions: z.array(z.enum(SUPPLIER_PERMISSIONS)),
        people: z.int(),
      }),
    ),
    addresses: z.array(
      z.strictObject({
        message: z.enum(SUPPLIER_MESSAGES),
        email: z.string(),
        bouncedAt: Stamp.nullable(),
        bounce: z.string().nullable(),
      }),
    ),
  }),
})
export const SaveCompanyRole = defineEndpoint({
  name: 'company.role',
  method: 'post',
  path: '/company/roles',
  permission: 'supplierPages.people',
  body: z.strictObject({ id: Uuid.nullable(), name: Line.min(1), permissions: z.array(z.enum(SUPPLIER_PERMISSIONS)) }),
  response: z.strictObject({ id: Uuid }),
})
/** Adds a person, who gets a single-use link to choose a password, or changes one. */
export const SaveCompanyPerson = defineEndpoint({
  name: 'company.person',
  method: 'post',
  path: '/company/people',
  permission: 'supplierPages.people',
  body: z.strictObject({
    id: Uuid.nullable(),
    name: Line.min(1),
    email: z.email(),
    roleId: Uuid.nullable(),
    active: z.boolean(),
  }),
  response: z.strictObject({ id: Uuid }),
})
/** Sends a new link to choose a password, to somebody who never did or has forgotten it; an earlier link ends. */
export const SendPersonLink = defineEndpoint({
  name: 'company.link',
  method: 'post',
  path: '/company/people/:id/link',
  permission: 'supplierPages.people',
  params: ById,
  response: z.strictObject({ id: Uuid }),
})
export const HandOver = defineEndpoint({
  name: 'company.handOver',
  method: 'post',
  path: '/company/people/:id/administration',
  permission: 'supplierPages.people',
  params: ById,
  body: z.strictObject({ reason: GivenReason }),
  response: z.strictObject({ id: Uuid }),
})
/** Which addresses get which kind of message. */
export const SaveAddresses = defineEndpoint({
  name: 'company.addresses',
  method: 'put',
  path: '/company/addresses',
  permission: 'supplierPages.people',
  body: z.strictObject({
    addresses: z.array(z.strictObject({ message: z.enum(SUPPLIER_MESSAGES), email: z.email() })).max(100),
  }),
  response: z.strictObject({ saved: z.int() }),
})
