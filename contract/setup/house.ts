import { z } from 'zod'
import { TypedPassword } from '#contract/account/endpoints.ts'
import { defineEndpoint } from '#contract/endpoint.ts'
import { Currency, Day, DecimalText, Line, Uuid, VersionOrNew, Zone } from '#contract/fields.ts'
import { ImportBody, ImportResult } from '#contract/files/endpoints.ts'
import { LANGUAGES } from '#contract/messages/languages.ts'
import { PersonJson } from '#contract/people/endpoints.ts'
import { Changed } from '#contract/setup/people.ts'
import { isCode } from '#core/people/setupImport.ts'

const Code = z.string().refine(isCode, { error: 'capitals, digits, points and hyphens, twenty at most' })
const Country = z.string().regex(/^[A-Z]{2}$/, { error: 'two capitals, such as NL' })
const Named = z.strictObject({ code: Code, name: Line.min(1) })

/** What a house says of itself before the first request: the file of `./ivory setup --file` is this. */
export const NewHouse = z.strictObject({
  house: z.strictObject({
    name: Line.min(1),
    street: Line.min(1),
    postalCode: Line.min(1).max(20),
    city: Line.min(1),
    country: Country,
    vat: Line.max(20),
    zone: Zone,
    base: Currency,
    /** The month in which the fiscal year begins: 1 is January. */
    fiscalYearFrom: z.int().min(1).max(12),
  }),
  administrator: z.strictObject({
    name: Line.min(1),
    email: z.email().max(200),
    /** Left out: a one-time link is given instead. */
    password: TypedPassword.optional(),
  }),
  costCentres: z.array(Named).min(1).max(500),
  accounts: z.array(Named).min(1).max(500),
})
export type NewHouse = z.output<typeof NewHouse>

const Token = z.string().max(100)
/** Whether this house is still to be set up, and whether this link may do it. */
export const ReadFirst = defineEndpoint({
  name: 'first.read',
  method: 'get',
  path: '/first-setup',
  permission: 'anyone',
  query: z.strictObject({ token: Token }),
  response: z.strictObject({ open: z.boolean(), zones: z.array(z.string()), currencies: z.array(z.string()) }),
})
export const SetUpHouse = defineEndpoint({
  name: 'first.setUp',
  method: 'post',
  path: '/first-setup',
  permission: 'anyone',
  body: z.strictObject({ token: Token, ...NewHouse.shape }),
  response: z.strictObject({ person: PersonJson.nullable(), path: z.string() }),
})

/** Who we are on documents. `seen` tells what the page was made from: what somebody else changed meanwhile is not written over. */
const HouseJson = NewHouse.shape.house.omit({ base: true, fiscalYearFrom: true }).extend({
  /** What outsiders are written to in; whoever reads none of them gets the first. */
  languages: z.array(z.enum(LANGUAGES)).min(1),
  seen: z.string().max(100),
})
export const ReadHouse = defineEndpoint({
  name: 'house.read',
  method: 'get',
  path: '/setup/house',
  permission: 'setup.read',
  response: z.strictObject({
    name: z.string(),
    street: z.string(),
    postalCode: z.string(),
    city: z.string(),
    country: z.string(),
    vat: z.string(),
    zone: z.string(),
    languages: z.array(z.enum(LANGUAGES)),
    base: z.string(),
    seen: z.string(),
  }),
})
export const SaveHouse = defineEndpoint({
  name: 'house.save',
  method: 'put',
  path: '/setup/house',
  permission: 'setup.write',
  body: HouseJson,
})

export const ReadOrganisation = defineEndpoint({
  name: 'organisation.read',
  method: 'get',
  path: '/setup/organisation',
  permission: 'setup.read',
  response: z.strictObject({
    base: z.string(),
    fiscalYearFrom: z.int(),
    costCentres: z.array(
      z.strictObject({
        id: Uuid,
        code: z.string(),
        name: z.string(),
        holderId: Uuid.nullable(),
        holder: z.string().nullable(),
        version: z.int(),
      }),
    ),
    accounts: z.array(z.strictObject({ code: z.string(), name: z.string() })),
    projects: z.array(z.strictObject({ code: z.string(), name: z.string(), open: z.boolean() })),
    rates: z.array(z.strictObject({ currency: z.string(), validFrom: z.string(), rate: z.string() })),
    signIn: z.strictObject({ idleMinutes: z.int(), secondFactorRoles: z.array(z.string()) }),
  }),
})
/** Adds a cost centre or changes it; another holder takes a second person, and what waits for the old one moves. */
export const SaveCostCentre = defineEndpoint({
  name: 'costCentre.save',
  method: 'post',
  path: '/setup/cost-centres',
  permission: 'setup.write',
  body: z.strictObject({
    code: Code,
    name: Line.min(1),
    holderId: Uuid.nullable(),
    version: VersionOrNew,
  }),
  response: Changed,
})
export const SaveAccount = defineEndpoint({
  name: 'naturalAccount.save',
  method: 'post',
  path: '/setup/accounts',
  permission: 'setup.write',
  body: Named,
})
export const SaveProject = defineEndpoint({
  name: 'project.save',
  method: 'post',
  path: '/setup/projects',
  permission: 'setup.write',
  body: Named.extend({ open: z.boolean() }),
})
/** Units of the base currency for one unit of another, from a day on. */
export const SaveRate = defineEndpoint({
  name: 'rate.save',
  method: 'post',
  path: '/setup/rates',
  permission: 'setup.write',
  body: z.strictObject({ currency: Currency, validFrom: Day, rate: DecimalText }),
})
export const SaveSignIn = defineEndpoint({
  name: 'signIn.save',
  method: 'put',
  path: '/setup/sign-in',
  permission: 'setup.write',
  body: z.strictObject({
    idleMinutes: z.int().min(5).max(720),
    secondFactorRoles: z.array(z.string().max(40)).max(30),
  }),
})

export const SETUP_IMPORTS = ['people', 'costCentres', 'accounts'] as const
export type SetupImport = (typeof SETUP_IMPORTS)[number]
/** Takes in what a house has from before, from a delimited file: all rows or none. */
export const ImportSetup = defineEndpoint({
  name: 'setup.import',
  method: 'post',
  path: '/setup/imports/:what',
  permission: 'setup.write',
  params: z.strictObject({ what: z.enum(SETUP_IMPORTS) }),
  body: ImportBody,
  response: ImportResult,
})
