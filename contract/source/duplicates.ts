import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Done, GivenReason, Line, ReasonJson, Stamp, Uuid } from '#contract/fields.ts'
import { ImportRow } from '#contract/files/endpoints.ts'
import { CandidateJson } from '#contract/source/endpoints.ts'
import { LONG_JOBS } from '#core/desk/longJob.ts'
import { SUPPLIER_COLUMNS } from '#core/source/supplierImport.ts'

export const JobJson = z.strictObject({
  id: Uuid,
  kind: z.enum(LONG_JOBS),
  state: z.enum(['waiting', 'running', 'applying', 'done', 'failed']),
  total: z.int(),
  done: z.int(),
  startedAt: Stamp.nullable(),
  finishedAt: Stamp.nullable(),
  failure: z.string().nullable(),
  result: z.record(z.string(), z.unknown()).nullable(),
  by: z.string(),
})
export type JobJson = z.output<typeof JobJson>
export const ReadJob = defineEndpoint({
  name: 'job.read',
  method: 'get',
  path: '/jobs/:id',
  permission: 'signedIn',
  params: ById,
  response: JobJson,
})

/** Whoever started it has seen how it ended. */
export const SeeJob = defineEndpoint({
  name: 'job.seen',
  method: 'post',
  path: '/jobs/:id/seen',
  permission: 'signedIn',
  params: ById,
  response: z.strictObject({ id: Uuid }),
})

/** Looks through all records for those that are one supplier twice. */
export const StartSearch = defineEndpoint({
  name: 'duplicates.start',
  method: 'post',
  path: '/duplicates/search',
  permission: 'supplier.merge',
  response: JobJson,
})
export const PairJson = z.strictObject({
  a: CandidateJson,
  b: CandidateJson,
  percent: z.int(),
  reasons: CandidateJson.shape.reasons,
  state: z.enum(['open', 'different', 'merged']),
  decidedBy: z.string().nullable(),
  reason: z.string().nullable(),
})
export const ReadPairs = defineEndpoint({
  name: 'duplicates.pairs',
  method: 'get',
  path: '/duplicates',
  permission: 'supplier.read',
  query: z.strictObject({ state: z.enum(['open', 'different', 'merged']).optional() }),
  response: z.strictObject({ pairs: z.array(PairJson), more: z.int(), job: JobJson.nullable() }),
})
/** Remembered: the pair is never shown again unless it is opened again. */
export const DecidePair = defineEndpoint({
  name: 'duplicates.decide',
  method: 'post',
  path: '/duplicates/pair',
  permission: 'supplier.merge',
  body: z.strictObject({ aId: Uuid, bId: Uuid, different: z.boolean(), reason: z.string().max(500) }),
  response: Done,
})
const MergeBody = z.strictObject({ keptId: Uuid, mergedId: Uuid })
export const PreviewMerge = defineEndpoint({
  name: 'merge.preview',
  method: 'get',
  path: '/merges/preview',
  permission: 'supplier.merge',
  query: MergeBody,
  response: z.strictObject({
    kept: z.strictObject({ id: Uuid, number: z.string(), name: z.string() }),
    merged: z.strictObject({ id: Uuid, number: z.string(), name: z.string() }),
    moves: z.array(z.strictObject({ what: z.string(), moving: z.array(z.string()), count: z.int(), staying: z.int() })),
    reasons: z.array(ReasonJson),
    /** What the merged record is owed would be paid to another account: a second person has to say yes first. */
    needsSecondYes: z.boolean(),
  }),
})
export const Merge = defineEndpoint({
  name: 'merge.do',
  method: 'post',
  path: '/merges',
  permission: 'supplier.merge',
  body: MergeBody.extend({ reason: GivenReason }),
  /** The question to a second person, where the merge moves money. */
  response: Done.extend({ secondYesId: Uuid.nullable() }),
})
export const UndoMerge = defineEndpoint({
  name: 'merge.undo',
  method: 'post',
  path: '/merges/:id/undoing',
  permission: 'supplier.merge',
  params: ById,
  body: z.strictObject({ reason: GivenReason }),
  response: Done,
})

/** The first look at a supplier file: its headings, some rows and the mapping that is proposed. */
export const LookAtImport = defineEndpoint({
  name: 'import.look',
  method: 'post',
  path: '/suppliers-import/look',
  permission: 'supplier.write',
  safe: true,
  body: z.strictObject({ fileId: Uuid }),
  response: z.strictObject({
    headings: z.array(z.string()),
    examples: z.array(z.array(z.string())),
    rows: z.int(),
    mapping: z.array(
      z.strictObject({ column: z.enum(SUPPLIER_COLUMNS), at: z.int(), by: z.enum(['heading', 'examples', 'none']) }),
    ),
  }),
})
/** Reads or loads a supplier file as a job; `dryRun` changes nothing. Near duplicates stop the load unless `withNear`. */
export const StartImport = defineEndpoint({
  name: 'import.start',
  method: 'post',
  path: '/suppliers-import',
  permission: 'supplier.write',
  body: z.strictObject({
    fileId: Uuid,
    dryRun: z.boolean(),
    withNear: z.boolean(),
    mapping: z.array(z.strictObject({ column: z.enum(SUPPLIER_COLUMNS), at: z.int().min(-1).max(200) })).max(40),
  }),
  response: JobJson,
})
/** What an import job leaves as its result. */
export const ImportOutcome = z.strictObject({
  rows: z.int(),
  good: z.int(),
  loaded: z.int(),
  faults: z.array(ImportRow),
  faultCount: z.int(),
  near: z.array(z.strictObject({ row: z.int(), name: Line, other: z.string(), number: z.string(), percent: z.int() })),
  nearCount: z.int(),
  seconds: z.string(),
})
