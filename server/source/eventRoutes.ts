import * as asked from '#contract/source/asked.ts'
import * as comparing from '#contract/source/comparing.ts'
import * as kinds from '#contract/source/eventKinds.ts'
import * as day from '#contract/source/day.ts'
import * as events from '#contract/source/events.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { enter } from '#server/account/enter.ts'
import { needVisible } from '#server/documents/visible.ts'
import { sentFile, storeFile } from '#server/files/fileActs.ts'
import { direct, type FileAnswer, reads, type Route, type Told, writes } from '#server/http/route.ts'
import { listRoutes } from '#server/lists/routes.ts'
import {
  answer,
  heldAsked,
  heldBehalf,
  readMessages,
  recordConsent,
  say,
  seen,
  suspend,
  writeFromSupplier,
  writeToSuppliers,
} from '#server/source/askedActs.ts'
import { askedPaper, eventPaper, lookAtFile } from '#server/source/askedPaper.ts'
import { linked } from '#server/source/askedPeople.ts'
import { join } from '#server/source/joinActs.ts'
import { askedFile, listAsked, readAsked, readBehalf } from '#server/source/askedSheet.ts'
import { countingAnswers } from '#server/source/answerStore.ts'
import { answerAward, proposeAward, tryAward } from '#server/source/awardActs.ts'
import { actOnDay, bid, removeBid } from '#server/source/dayActs.ts'
import { readAskedDay, readDay } from '#server/source/daySheet.ts'
import { givePoints, readComparison, readLanded } from '#server/source/comparisonSheet.ts'
import {
  changeEvent,
  changeInvited,
  createEvent,
  dropLine,
  endEvent,
  inviteSuppliers,
  leaveOut,
  moveEnd,
  remind,
  send,
} from '#server/source/eventActs.ts'
import {
  dropEventKind,
  listEventKinds,
  publishEventKind,
  retireEventKind,
  saveEventKind,
} from '#server/source/eventKindActs.ts'
import { askedSupplierList } from '#server/source/askedSupplierList.ts'
import { eventList } from '#server/source/eventList.ts'
import { eventLogFile, readEventLog } from '#server/source/eventLogPages.ts'
import { readEvent } from '#server/source/eventSheet.ts'
import { knownEvent } from '#server/source/eventStore.ts'
import { proposals } from '#server/source/proposalStore.ts'
import { takeLines } from '#server/source/takeLines.ts'

/** A file that a supplier sent us: of an answer that may be read, of a message, or that shows a consent. */
async function eventFile(call: Read, id: string, fileId: string): Promise<FileAnswer> {
  await needVisible(call, 'event', id)
  const event = await knownEvent(call, id)
  const answers = await countingAnswers(call, event)
  const messages = await call.trx('eventMessages').where({ eventId: id }).pluck<string[][]>('fileIds')
  const open = new Set([
    ...[...answers.values()].flatMap(one => [...one.fileIds]),
    ...messages.flat(),
    ...event.rows.flatMap(one => one.consent?.fileId ?? []),
  ])
  const file = open.has(fileId) ? await call.trx('files').where({ id: fileId }).first('id', 'name', 'mediaType') : undefined // prettier-ignore
  return sentFile(call, found(file, 'file'))
}

/** Opens the link of a mail: whoever has a password signs in with it; for anybody else the link is the key, to their answer alone. */
async function openLink(call: Write, token: string, told: Told): Promise<{ eventId: string; signedIn: boolean }> {
  const link = await linked(call, token)
  if (!link) throw new RuleBroken(stop('asked.noLink'))
  if (link.hasPassword) return { eventId: link.eventId, signedIn: false }
  await enter(call, link.personId, told, { secondFactor: null, action: 'signedIn', trusted: true })
  return { eventId: link.eventId, signedIn: true }
}

/** Our side: kinds, events, who is asked, the log, comparing and awarding. */
export const eventRoutes: Route[] = [
  reads(kinds.ListEventKinds, call => listEventKinds(call)),
  writes(kinds.SaveEventKind, (call, { body }) => saveEventKind(call, body)),
  writes(kinds.PublishEventKind, (call, { params, body }) => publishEventKind(call, params.id, body.version)),
  writes(kinds.DropEventKind, (call, { params, body }) => dropEventKind(call, params.id, body.version)),
  writes(kinds.RetireEventKind, (call, { params, body }) => retireEventKind(call, params.id, body)),
  ...listRoutes(events.Events, eventList, 'events'),
  ...listRoutes(events.AskedSuppliers, askedSupplierList, 'asked-suppliers'),
  reads(events.ReadEvent, (call, { params }) => readEvent(call, params.id)),
  writes(events.CreateEvent, (call, { body }) => createEvent(call, body)),
  writes(events.ChangeEvent, (call, { params, body }) => changeEvent(call, params.id, body)),
  writes(events.TakeLines, (call, { params, body }) => takeLines(call, params.id, body)),
  writes(events.DropEventLine, (call, { params, body }) => dropLine(call, params.id, body)),
  reads(events.ProposedSuppliers, async (call, { params }) => ({
    proposals: (await proposals(call, await knownEvent(call, params.id))).map(one => ({
      ...one,
      reasons: one.reasons.map(reason => ({ ...reason })),
    })),
  })),
  writes(events.InviteSuppliers, (call, { params, body }) => inviteSuppliers(call, params.id, body)),
  writes(events.ChangeInvited, (call, { params, body }) => changeInvited(call, params.id, params.invitedId, body)),
  writes(events.LeaveOutInvited, (call, { params, body }) => leaveOut(call, params.id, params.invitedId, body.version)),
  writes(events.SendEvent, (call, { params, body }) => send(call, params.id, body)),
  writes(events.MoveEnd, (call, { params, body }) => moveEnd(call, params.id, body)),
  writes(events.EndEvent, (call, { params, body }) => endEvent(call, params.id, body)),
  writes(events.RemindSuppliers, (call, { params, body }) => remind(call, params.id, body)),
  writes(events.SuspendSupplier, (call, { params, body }) => suspend(call, params.id, params.invitedId, body)),
  writes(events.RecordConsent, (call, { params, body }) => recordConsent(call, params.id, params.invitedId, body)),
  writes(events.WriteMessage, (call, { params, body }) => writeToSuppliers(call, params.id, body)),
  writes(events.ReadMessages, (call, { params }) => readMessages(call, params.id)),
  reads(events.EventFile, (call, { params }) => eventFile(call, params.id, params.fileId)),
  reads(events.ReadEventLog, (call, { params, query }) => readEventLog(call, params.id, query)),
  reads(events.EventLogFile, (call, { params }) => eventLogFile(call, params.id)),
  reads(events.EventPaper, (call, { params, query }) => eventPaper(call, params.id, query.invitedId, query.format)),
  reads(comparing.CompareEvent, (call, { params }) => readComparison(call, params.id)),
  reads(comparing.ReadLanded, (call, { params, query }) => readLanded(call, params.id, query.lineId, query.supplierId)),
  writes(comparing.GivePoints, (call, { params, body }) => givePoints(call, params.id, body)),
  reads(comparing.TryAward, (call, { params, body }) => tryAward(call, params.id, body)),
  writes(comparing.ProposeAward, (call, { params, body }) => proposeAward(call, params.id, body)),
  writes(comparing.AnswerAward, (call, { params, body }) => answerAward(call, params.id, body)),
  reads(day.ReadDay, (call, { params }) => readDay(call, params.id)),
  writes(day.ActOnDay, (call, { params, body }) => actOnDay(call, params.id, body)),
  writes(day.RemoveBid, (call, { params, body }) => removeBid(call, params.id, params.bidId, body)),
  writes(day.BidBehalf, async (call, { params, body }, told) =>
    bid(call, await heldBehalf(call, params.id, params.invitedId), body, told.ip),
  ),
  reads(asked.ReadBehalf, (call, { params }) => readBehalf(call, params.id, params.invitedId)),
  writes(asked.SayBehalf, async (call, { params, body }) => say(call, await heldBehalf(call, params.id, params.invitedId), body)), // prettier-ignore
  writes(asked.AnswerBehalf, async (call, { params, body }) => answer(call, await heldBehalf(call, params.id, params.invitedId), body)), // prettier-ignore
]

/** The supplier's side: what it is asked, and what it says. */
export const askedRoutes: Route[] = [
  direct(asked.OpenAsked, (call, { params }, told) => openLink(call, params.token, told)),
  reads(asked.ListAsked, call => listAsked(call)),
  writes(asked.JoinAsked, (call, { params }) => join(call, params.id)),
  reads(day.ReadAskedDay, (call, { params }) => readAskedDay(call, params.id)),
  writes(day.PlaceBid, async (call, { params, body }, told) =>
    bid(call, await heldAsked(call, params.id), body, told.ip),
  ),
  reads(asked.ReadAsked, (call, { params }) => readAsked(call, params.id)),
  writes(asked.SayAsked, async (call, { params, body }) => say(call, await heldAsked(call, params.id), body)),
  writes(asked.AnswerAsked, async (call, { params, body }) => answer(call, await heldAsked(call, params.id), body)),
  writes(asked.WriteAsked, (call, { params, body }) => writeFromSupplier(call, params.id, body)),
  writes(asked.SeeAsked, (call, { params }) => seen(call, params.id)),
  direct(asked.UploadAskedFile, (call, _input, told) => storeFile(call, told.upload)),
  reads(asked.AskedFile, (call, { params }) => askedFile(call, params.id, params.fileId)),
  reads(asked.AskedPaper, (call, { params, query }) => askedPaper(call, params.id, query.format)),
  reads(asked.LookAtAnswerFile, (call, { params, body }) => lookAtFile(call, params.id, body.fileId)),
]
