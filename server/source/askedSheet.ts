import type { ResponseOf } from '#contract/endpoint.ts'
import type { ListAsked, ReadAsked } from '#contract/source/asked.ts'
import { type Language, languageOf } from '#contract/messages/languages.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { type AnswerContent, emptyAnswer } from '#core/source/answer.ts'
import { isOver, standingOfInvited } from '#core/source/event.ts'
import type { EventKind, InLanguages } from '#core/source/eventKind.ts'
import { type InvitedAct, whyNotAs } from '#core/source/invitedActs.ts'
import { outcomeFor } from '#core/source/outcome.ts'
import { found, type Read } from '#server/call.ts'
import { sentFile } from '#server/files/fileActs.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { contentFor, ownAnswers } from '#server/source/answerStore.ts'
import { type KnownEvent, knownEvent, knownEvents } from '#server/source/eventStore.ts'
import { openTo } from '#server/source/openEvents.ts'
import { messagesFor, namesOfFiles } from '#server/source/messageStore.ts'
import { comparedCosts } from '#server/source/comparisonStore.ts'

type Asked = ResponseOf<typeof ReadAsked>

/** Where a supplier's page about an event stands: an auction that has not opened is to come. */
function stateFor(event: KnownEvent, now: string): Asked['state'] {
  if (event.state === 'cancelled') return 'cancelled'
  if (isOver(event, now)) return 'over'
  return event.opensAt !== null && Date.parse(now) < Date.parse(event.opensAt) ? 'coming' : 'open'
}

export const said = (words: InLanguages, language: Language): string => words[language] || words.en || ''

/** Everything that the supplier of whoever looks is asked. */
export async function listAsked(call: Read): Promise<ResponseOf<typeof ListAsked>> {
  const own = await call
    .trx('eventSuppliers')
    .join('events', 'events.id', 'eventSuppliers.eventId')
    .where('eventSuppliers.supplierId', call.actor.supplierId ?? '')
    .whereNotNull('eventSuppliers.sentAt')
    .orderBy('events.endsAt', 'desc')
    .limit(100)
    .select<{ eventId: string }[]>('eventSuppliers.eventId')
  const events = await knownEvents(call, own.map(one => one.eventId)) // prettier-ignore
  const unread = new Map<string, number>()
  for (const event of events)
    unread.set(event.id, (await messagesFor(call, event, call.actor.supplierId)).filter(one => one.unread).length)
  return {
    open: await openTo(call),
    events: events
      .map(event => ({
        id: event.id,
        number: event.number,
        title: event.title,
        format: event.kind.format,
        state: stateFor(event, call.now),
        standing: standingOfInvited(event.invited.find(one => one.supplierId === call.actor.supplierId)!, isOver(event, call.now)), // prettier-ignore
        endsAt: event.endsAt,
        opensAt: event.opensAt,
        zone: event.zone,
        unread: unread.get(event.id) ?? 0,
      }))
      .sort((a, b) => Number(a.state === 'over') - Number(b.state === 'over') || (a.endsAt ?? '').localeCompare(b.endsAt ?? '')), // prettier-ignore
  }
}

/** What the supplier of whoever looks is asked; another's, or one that was not sent to it, is as if it were not there. */
export async function readAsked(call: Read, id: string): Promise<Asked> {
  const event = await knownEvent(call, id)
  const row = found(event.rows.find(one => one.sentAt !== null && one.supplierId === call.actor.supplierId), 'event') // prettier-ignore
  return await asked(call, event, row, languageOf(call.actor.locale, call.house.languages), false)
}

/** The same for one of us who types in on a supplier's behalf; a sealed answer shows nothing that the supplier gave itself. */
export async function readBehalf(call: Read, id: string, invitedId: string): Promise<Asked> {
  const event = await knownEvent(call, id)
  const row = found(event.rows.find(one => one.sentAt !== null && one.id === invitedId), 'event') // prettier-ignore
  return await asked(call, event, row, 'en', true)
}

const ACTS: readonly InvitedAct[] = ['accept', 'mean', 'decline', 'save', 'submit', 'withdraw', 'bid', 'write']

async function asked(
  call: Read,
  event: KnownEvent,
  row: KnownEvent['rows'][number],
  language: Language,
  behalf: boolean,
): Promise<Asked> {
  const facts = event.invited.find(one => one.id === row.id)!
  const { draft, submitted, revision } = await ownAnswers(call, row.id)
  const shown = draft ?? submitted
  const content = shown && mayShow(event, shown, behalf) ? contentFor(event, shown.content) : emptyAnswer(event, row.currency) // prettier-ignore
  const owner = await call.trx('people').where({ id: event.ownerId }).first('name')
  const places = new Map((await call.trx('addresses').whereIn('id', event.lines.flatMap(line => line.addressId ?? [])).select('id', 'name')).map(one => [one.id, one.name])) // prettier-ignore
  return {
    id: event.id,
    number: event.number,
    title: event.title,
    buyer: owner?.name ?? '',
    house: call.house.name,
    message: event.row.message,
    supplier: row.name,
    supplierId: row.supplierId,
    state: stateFor(event, call.now),
    standing: standingOfInvited(facts, isOver(event, call.now)),
    serverTime: call.now,
    opensAt: event.opensAt,
    endsAt: event.endsAt,
    zone: event.zone,
    currency: row.currency,
    settings: shownSettings(event.kind),
    terms: said(event.kind.terms, language),
    accepted: row.acceptedAt !== null,
    means: row.means,
    texts: event.kind.texts
      .filter(text => text.seenBy !== 'us')
      .map(text => ({ key: text.key, name: text.name, place: text.place, ours: text.writtenBy === 'us', text: text.writtenBy === 'us' ? (event.row.texts[text.key] ?? said(text.words, language)) : '' })), // prettier-ignore
    lots: event.lots.map(({ id, title }) => ({ id, title })),
    lines: event.lines.map(line => ({
      id: line.id,
      lotId: line.lotId,
      position: line.position,
      description: line.description,
      quantity: line.quantity,
      unit: line.unit,
      needBy: line.needBy,
      place: line.addressId === null ? '' : (places.get(line.addressId) ?? ''),
      incoterm: [line.incoterm ?? '', line.incotermPlace].filter(Boolean).join(' '),
      texts: Object.fromEntries(event.kind.texts.filter(text => text.place === 'line' && text.seenBy !== 'us' && text.writtenBy === 'us').map(text => [text.name, line.texts[text.key] ?? ''])), // prettier-ignore
      gone: line.goneAt !== null,
    })),
    sections: event.kind.sections.map(section => ({
      title: section.title,
      questions: section.questions.map(({ key, label, kind, choices, required }) => ({
        key,
        label,
        kind,
        choices: [...choices],
        required,
      })),
    })),
    files: await eventFiles(call, event.id),
    answer: writable(content),
    answerFiles: Object.fromEntries((await namesOfFiles(call, content.fileIds)).map(one => [one.id, one.name])),
    draftAt: draft?.at ?? null,
    submittedAt: row.answeredAt,
    revision,
    onBehalfBy: row.onBehalf && submitted ? ((await call.trx('people').where({ id: submitted.byId }).first('name'))?.name ?? '') : null, // prettier-ignore
    may: Object.fromEntries(ACTS.map(act => [act, whyNotAs(event, facts, act, call.now).map(({ code, details }) => ({ code, details }))])), // prettier-ignore
    messages: behalf ? [] : await messagesFor(call, event, row.supplierId),
    outcome: await outcomeOf(call, event, row.supplierId),
  }
}

/** What one of us may see while typing on behalf: what one of us typed; of a sealed event nothing that the supplier gave itself. */
const mayShow = (event: KnownEvent, answer: { readonly onBehalf: boolean }, behalf: boolean): boolean =>
  !behalf || answer.onBehalf || !event.kind.sealed

const shownSettings = ({ format, pricing, components, supplierLines, alternatives, partQuantity, sealed }: EventKind) => ({ format, pricing, components: [...components], supplierLines, alternatives, partQuantity, sealed }) // prettier-ignore

const writable = (content: AnswerContent): Asked['answer'] => ({
  ...content,
  lines: content.lines.map(line => ({ ...line })),
  alternatives: [...content.alternatives],
  ownLines: [...content.ownLines],
  lump: { ...content.lump },
  fileIds: [...content.fileIds],
})

/** Files that hang on the event for everybody who is asked. */
const eventFiles = (call: Read, eventId: string): Promise<{ id: string; name: string }[]> =>
  call
    .trx('attachments')
    .join('files', 'files.id', 'attachments.fileId')
    .where({ documentKind: 'event', documentId: eventId })
    .orderBy('attachments.at')
    .select<{ id: string; name: string }[]>('files.id', 'files.name')

/** A file of the event, of our messages, or of the supplier's own answer or messages. */
export async function askedFile(call: Read, id: string, fileId: string): Promise<FileAnswer> {
  const sheet = await readAsked(call, id)
  const open = new Set([
    ...sheet.files.map(one => one.id),
    ...sheet.answer.fileIds,
    ...sheet.messages.flatMap(one => one.files.map(file => file.id)),
  ])
  const file = open.has(fileId) ? await call.trx('files').where({ id: fileId }).first('id', 'name', 'mediaType') : undefined // prettier-ignore
  return sentFile(call, found(file, 'file'))
}

/** What a supplier learns of how it ended, after the award is placed. */
async function outcomeOf(call: Read, event: KnownEvent, supplierId: string): Promise<Asked['outcome']> {
  if (event.state !== 'settled' || event.row.award === null) return null
  const { award } = event.row
  const outcome = outcomeFor(
    event.kind.tells,
    supplierId,
    award.shares,
    await comparedCosts(call, event),
    minor(BigInt(award.cost)),
  )
  return { ...outcome, winningPrice: outcome.winningPrice === null ? null : formatAmount(outcome.winningPrice, event.currency) } // prettier-ignore
}
