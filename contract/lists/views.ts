import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Done, Line, Uuid, Version } from '#contract/fields.ts'

const Key = z.string().max(40)
/** How a column is seen (core/lists/looks.ts). */
export const ColumnLookJson = z.strictObject({
  key: Key,
  width: z.int().min(1).max(5000).nullable(),
  pinned: z.boolean(),
  hidden: z.boolean(),
})
const Looks = z.array(ColumnLookJson).max(60)

/** What a list is asked, as it stands in the address. */
export const AskedJson = z.strictObject({
  view: z.string().max(40).optional(),
  q: z.string().max(200).optional(),
  sort: z.string().max(200).optional(),
  state: z.string().max(40).optional(),
  where: z.string().max(4000).optional(),
  group: z.string().max(100).optional(),
})
export type AskedJson = z.output<typeof AskedJson>

const Shared = {
  roles: z.array(Key).max(40),
  people: z.array(Uuid).max(100),
}
export const SavedViewJson = z.strictObject({
  id: Uuid,
  name: z.string(),
  /** Whose it is; theirs alone to change. */
  owner: z.string(),
  mine: z.boolean(),
  asked: AskedJson,
  columns: Looks,
  ...Shared,
  version: z.int(),
})
export type SavedViewJson = z.output<typeof SavedViewJson>

const OfList = z.strictObject({ list: Key })
/** The views of a list that this person has or is shown by others, and the one that they begin with. */
export const ReadViews = defineEndpoint({
  name: 'views.read',
  method: 'get',
  path: '/lists/:list/views',
  permission: 'signedIn',
  params: OfList,
  response: z.strictObject({ views: z.array(SavedViewJson), start: z.string().nullable() }),
})
/** Whom a view of this list can be shared with: the roles and people that may read the list. */
export const ReadViewAudience = defineEndpoint({
  name: 'views.audience',
  method: 'get',
  path: '/lists/:list/audience',
  permission: 'signedIn',
  params: OfList,
  response: z.strictObject({
    roles: z.array(z.string()),
    people: z.array(z.strictObject({ id: Uuid, name: z.string() })),
  }),
})
const ViewBody = z.strictObject({ name: Line.min(1).max(60), asked: AskedJson, columns: Looks, ...Shared })
export const KeepView = defineEndpoint({
  name: 'views.keep',
  method: 'post',
  path: '/lists/:list/views',
  permission: 'signedIn',
  params: OfList,
  body: ViewBody,
  response: Done,
})
export const ChangeView = defineEndpoint({
  name: 'views.change',
  method: 'put',
  path: '/views/:id',
  permission: 'signedIn',
  params: ById,
  body: ViewBody.extend({ version: Version }),
  response: Done,
})
export const DropView = defineEndpoint({
  name: 'views.drop',
  method: 'delete',
  path: '/views/:id',
  permission: 'signedIn',
  params: ById,
})
