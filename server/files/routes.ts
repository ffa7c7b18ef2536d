import * as files from '#contract/files/endpoints.ts'
import { attach, readAttachment, storeFile } from '#server/files/fileActs.ts'
import { nameable, seeNotes, writeNote } from '#server/files/noteActs.ts'
import { direct, reads, type Route, writes } from '#server/http/route.ts'

export const fileRoutes: Route[] = [
  direct(files.UploadFile, (call, _input, told) => storeFile(call, told.upload)),
  writes(files.Attach, (call, { body }) => attach(call, body.documentKind, body.documentId, body.fileId)),
  reads(files.ReadAttachment, (call, { params }) => readAttachment(call, params.id)),
  writes(files.WriteNote, (call, { body }) => writeNote(call, body)),
  reads(files.ListNameable, call => nameable(call)),
  writes(files.SeeNotes, (call, { body }) => seeNotes(call, body.documentKind, body.documentId)),
]
