import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { Day, Line, Stamp, Text, Uuid } from '#contract/fields.ts'
import { CLAUSE_SCOPES } from '#core/order/clauses.ts'

const ClauseBody = z.strictObject({
  name: Line.min(1),
  /** The first day on which orders get it. */
  from: Day,
  ended: z.boolean(),
  scope: z.enum(CLAUSE_SCOPES),
  categories: z.array(Line).max(200),
  countries: z.array(z.string().regex(/^[A-Z]{2}$/)).max(250),
  /** By language. */
  text: z.record(z.string().max(5), Text),
})
/** Every clause with its versions, the latest first. */
export const ListClauses = defineEndpoint({
  name: 'clauses.list',
  method: 'get',
  path: '/setup/clauses',
  permission: 'setup.read',
  response: z.strictObject({
    clauses: z.array(
      z.strictObject({
        id: Uuid,
        versions: z.array(ClauseBody.extend({ version: z.int(), by: z.string(), at: Stamp, orders: z.int() })),
      }),
    ),
    languages: z.array(z.string()),
  }),
})
/** Writes the next version of a clause, or the first of a new one; `seen`: the latest that was there. */
export const SaveClause = defineEndpoint({
  name: 'clauses.save',
  method: 'post',
  path: '/setup/clauses',
  permission: 'setup.write',
  body: ClauseBody.extend({ id: Uuid.nullable(), seen: z.int().min(0) }),
  response: z.strictObject({ id: Uuid, version: z.int() }),
})
