import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ListNameable, SeeNotes, WriteNote } from '#contract/files/endpoints.ts'
import { documentKind, type DocumentKind } from '#core/documents/kinds.ts'
import {
  type Mentioned,
  mentionDesk,
  mentionMails,
  type MentioningNote,
  whyNotMention,
} from '#core/documents/mentions.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { refuse } from '#server/documents/obey.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { visibleIds } from '#server/documents/visible.ts'
import { keepDesks } from '#server/desk/deskStore.ts'
import { holdVisible } from '#server/files/fileActs.ts'
import { say } from '#server/mail/mail.ts'
import { getActor } from '#server/people/sessions.ts'

declare module 'knex/types/tables.js' {
  interface Tables {
    noteMentions: { noteId: string; personId: string; seenAt: string | null }
  }
}

/** Writes a note beside a document; whoever it names is told, and finds it on their Desk. */
export async function writeNote(
  call: Write,
  { documentKind: kind, documentId, text, names = [] }: BodyOf<typeof WriteNote>,
): Promise<ResponseOf<typeof WriteNote>> {
  await holdVisible(call, kind, documentId)
  if (text.trim() === '') throw new RuleBroken(stop('note.empty', {}, { place: 'text' }))
  const named = await namedPeople(call, [...new Set(names)], kind, documentId)
  refuse(whyNotMention(named))
  const id = randomUUID()
  await call.trx('notes').insert({ id, documentKind: kind, documentId, text, byId: call.actor.id, at: call.now })
  const called = named.map(one => one.name).sort()
  await record(call, {
    kind,
    id: documentId,
    action: 'noteWritten',
    changes: { text, ...(called.length > 0 ? { names: called } : {}) },
  })
  if (named.length > 0) {
    const people = named.map(one => one.personId)
    await call.trx('noteMentions').insert(people.map(personId => ({ noteId: id, personId })))
    await keepNoteDesks(call, [id])
    const [note] = await mentioning(call, [id])
    await say(call, mentionMails(note!, people), { kind, id: documentId })
  }
  return { id, text, at: call.now, by: call.actor.name, names: called, toSee: false }
}

/** Everybody of the team whom a note can name. */
export async function nameable(call: Read): Promise<ResponseOf<typeof ListNameable>> {
  const people = call.trx('people').where({ active: true, realm: 'team' }).whereNot({ id: call.actor.id })
  return { people: await people.orderBy('name').select('id', 'name') }
}

/** Notes of a document that name this person are seen: they leave the Desk. */
export async function seeNotes(
  call: Write,
  kind: DocumentKind,
  documentId: string,
): Promise<ResponseOf<typeof SeeNotes>> {
  const ids = await call
    .trx('noteMentions')
    .join('notes', 'notes.id', 'noteMentions.noteId')
    .where({ documentId, documentKind: kind, personId: call.actor.id })
    .whereNull('seenAt')
    .orderBy('notes.id')
    .pluck<string[]>('notes.id')
  if (ids.length > 0) {
    await call
      .trx('noteMentions')
      .whereIn('noteId', ids)
      .where({ personId: call.actor.id })
      .update({ seenAt: call.now })
    await keepNoteDesks(call, ids)
  }
  return { seen: ids.length }
}

/** Those whom a note names, with whether each sees the document. */
async function namedPeople(
  call: Write,
  ids: readonly string[],
  kind: DocumentKind,
  documentId: string,
): Promise<Mentioned[]> {
  const people: Mentioned[] = []
  for (const id of ids) {
    const person = found(await call.trx('people').where({ id, realm: 'team' }).first('name', 'active'), 'person')
    const actor = await getActor(call.trx, id, call.now)
    const sees = person.active && (await visibleIds({ ...call, actor }, kind, [documentId])).has(documentId)
    people.push({ personId: id, ...person, seesDocument: sees })
  }
  return people
}

/** Notes that name people, with what they are beside. */
export async function mentioning(call: Read, ids: readonly string[]): Promise<MentioningNote[]> {
  const notes = await call
    .trx('notes')
    .join('people', 'people.id', 'notes.byId')
    .whereIn('notes.id', [...ids])
    .orderBy('notes.id')
    .select<{ id: string; documentKind: DocumentKind; documentId: string; text: string; at: string; by: string }[]>(
      'notes.id',
      'documentKind',
      'documentId',
      'text',
      'at',
      'people.name as by',
    )
  const known: MentioningNote[] = []
  for (const { documentKind: kind, documentId, ...note } of notes) {
    const { rows, title, letter } = documentKind(kind)
    const row = await call
      .trx<{ id: string }>(rows)
      .where({ id: documentId })
      .first<Record<string, string>>('id', `${title} as title`, ...(letter === '' ? [] : ['number']))
    known.push({ ...note, path: pathOf(kind, documentId), number: row?.number ?? '', title: row?.title ?? '' })
  }
  return known
}

/** What stands on Desks because of notes. */
export async function noteDesks(call: Read, ids: readonly string[]) {
  const unseen = await call
    .trx('noteMentions')
    .whereIn('noteId', [...ids])
    .whereNull('seenAt')
    .orderBy('personId')
  return (await mentioning(call, ids)).map(note => ({
    document: { kind: 'note' as const, id: note.id },
    entries: mentionDesk(
      note,
      unseen.filter(one => one.noteId === note.id).map(one => one.personId),
    ),
  }))
}

/** Keeps on the Desks what waits because of notes. */
export const keepNoteDesks = async (call: Write, ids: readonly string[]): Promise<void> =>
  await keepDesks(call, await noteDesks(call, ids))
