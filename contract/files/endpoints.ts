import { z } from 'zod'
import { type DocumentKind, PAPER_KINDS } from '#core/documents/kinds.ts'
import { MOST_MENTIONED } from '#core/documents/mentions.ts'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AttachmentJson, ById, Line, NoteJson, Text, Uuid } from '#contract/fields.ts'

/** Kinds of document on which files and notes hang. */
const PaperKind = z.enum(PAPER_KINDS as [DocumentKind, ...DocumentKind[]])

/** Largest file that is taken. */
export const FILE_LIMIT = 25 * 1024 * 1024
/** What may be attached, by what the content really is. */
export const ATTACHABLE = [
  'application/pdf',
  'image/png',
  'image/jpeg',
  'image/webp',
  'text/plain',
  'text/csv',
  'application/xml',
  'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
  'application/vnd.oasis.opendocument.text',
  'application/vnd.oasis.opendocument.spreadsheet',
] as const

/** Takes one multipart file; the answer's id is then named in the call that uses it. */
export const UploadFile = defineEndpoint({
  name: 'file.upload',
  method: 'post',
  path: '/files',
  permission: 'signedIn',
  takes: 'file',
  response: z.strictObject({ id: Uuid, name: z.string(), mediaType: z.string(), size: z.int() }),
})
export const Attach = defineEndpoint({
  name: 'file.attach',
  method: 'post',
  path: '/attachments',
  permission: 'signedIn',
  body: z.strictObject({ documentKind: PaperKind, documentId: Uuid, fileId: Uuid }),
  response: AttachmentJson,
})
export const ReadAttachment = defineEndpoint({
  name: 'file.read',
  method: 'get',
  path: '/attachments/:id',
  permission: 'signedIn',
  params: ById,
  answers: 'file',
})
export const WriteNote = defineEndpoint({
  name: 'note.write',
  method: 'post',
  path: '/notes',
  permission: 'signedIn',
  body: z.strictObject({
    documentKind: PaperKind,
    documentId: Uuid,
    text: Text,
    /** Those whom it names: they are told. */
    names: z.array(Uuid).max(MOST_MENTIONED).optional(),
  }),
  response: NoteJson,
})
/** Everybody of the team whom a note can name. */
export const ListNameable = defineEndpoint({
  name: 'note.nameable',
  method: 'get',
  path: '/notes/people',
  permission: 'signedIn',
  response: z.strictObject({ people: z.array(z.strictObject({ id: Uuid, name: z.string() })) }),
})
/** Whoever is named in notes of a document has seen them. */
export const SeeNotes = defineEndpoint({
  name: 'note.see',
  method: 'post',
  path: '/notes/seen',
  permission: 'signedIn',
  body: z.strictObject({ documentKind: PaperKind, documentId: Uuid }),
  response: z.strictObject({ seen: z.int() }),
})
export const ImportRow = z.strictObject({
  row: z.int(),
  place: z.string(),
  code: z.string(),
  details: z.record(z.string(), z.union([z.string(), z.number()])),
})
export const ImportBody = z.strictObject({ fileId: Uuid, dryRun: z.boolean() })
export const ImportResult = z.strictObject({
  rows: z.int(),
  good: z.int(),
  loaded: z.int(),
  faults: z.array(ImportRow),
  faultCount: z.int(),
  delimiter: Line,
  encoding: z.string(),
})
export type ImportResult = z.output<typeof ImportResult>
