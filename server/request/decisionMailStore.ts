import { reaches } from '#core/acts/actor.ts'
import type { Message } from '#core/acts/decision.ts'
import { inPlaceOf } from '#core/consent/standIns.ts'
import { available } from '#core/ledger/budget.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { tidy } from '#core/money/decimal.ts'
import { languageOf } from '#contract/messages/languages.ts'
import { writeUnit, writtenFigure } from '#contract/messages/translate.ts'
import type { Write } from '#server/call.ts'
import { decideSettings } from '#server/consent/clock.ts'
import { awayTimesOf, type KeptConsent, type KeptStep, originOfStep } from '#server/consent/consentStore.ts'
import { MAIL_PREFIX, newWay, tokenOf } from '#server/consent/ways.ts'
import { readSetting } from '#server/house/house.ts'
import { say } from '#server/mail/mail.ts'
import { accountLabel, budgetSums } from '#server/ledger/budgetStore.ts'
import { personNames } from '#server/people/peopleStore.ts'
import { mailWish } from '#server/people/preferences.ts'
import { shownChanges } from '#server/request/changesStore.ts'
import { lastTimes } from '#server/request/lastTime.ts'
import { lineContext } from '#server/request/lineStore.ts'
import { type KnownRequisition, knownRequisition, liveLines } from '#server/request/requisitionStore.ts'
import { seenHash } from '#server/request/seenStore.ts'

/** Mails that ask somebody to decide. */
const ASKS = new Set(['requisition.waits', 'requisition.reminder'])
const DAY = 86_400_000

/**
 * Says what an act says. Who is asked to decide gets with it what is needed to decide out of the mail: lines, budget, comparison, two links
 * and an address that takes the answer. Whoever is away is not written to where somebody decides in their place: that one is.
 */
export async function sayOfRequest(call: Write, requestId: string, messages: readonly Message[]): Promise<void> {
  const about = { kind: 'requisition', id: requestId } as const
  const asks = messages.filter(message => ASKS.has(message.template) && message.to.kind === 'person')
  for (const message of messages.filter(one => !asks.includes(one)))
    await say(call, [message.template === 'requisition.edited' ? await withChanges(call, requestId, message) : message], about) // prettier-ignore
  if (asks.length === 0) return
  const request = await knownRequisition(call, requestId)
  for (const message of asks) {
    const askedId = message.to.id
    const step = request.consent?.kept.find(one => one.state === 'open' && one.approverIds.includes(askedId))
    const readers = request.consent && step ? await readersOf(call, request.consent, askedId) : [askedId]
    for (const readerId of readers) {
      const details = step ? await decisionDetails(call, request, step, askedId, readerId) : NOTHING
      const { answerTo, ...fill } = details
      await say(
        call,
        [
          {
            ...message,
            to: { kind: 'person', id: readerId },
            key: readerId === askedId ? message.key : `${message.key}:${readerId}`,
            details: { ...message.details, ...fill },
            ...(answerTo === '' ? {} : { answerTo }),
          },
        ],
        about,
      )
    }
  }
}

const changesText = (changes: Awaited<ReturnType<typeof shownChanges>>): string =>
  changes
    .map(one => `· ${[one.line, [one.before ?? '–', one.after ?? '–'].join(' → ')].filter(Boolean).join(': ')}`)
    .join('\n')

/** What was changed, before and after, as lines of text. */
async function withChanges(call: Write, requestId: string, message: Message): Promise<Message> {
  const changes = changesText(await shownChanges(call, await knownRequisition(call, requestId), false))
  return { ...message, details: { ...message.details, changes } }
}

const NOTHING = {
  answerTo: '',
  answer: '',
  why: '',
  lines: '',
  budget: '',
  past: '',
  changes: '',
  yes: '',
  no: '',
  until: '',
  inPlace: '',
}

/** Who is written to: whoever decides in the place of somebody who is away, else the one who is asked. */
async function readersOf(call: Write, consent: KeptConsent, personId: string): Promise<string[]> {
  const times = await awayTimesOf(call, [personId])
  const about = { kind: consent.purpose, amount: consent.amount, currency: consent.currency }
  const now = times.filter(one => one.fromDay <= call.today)
  const others = now.flatMap(one => {
    if (one.standInId === null) return []
    const way = inPlaceOf([one], one.standInId, call.today, call.base)[0]
    return way && reaches(way, about) ? [one.standInId] : []
  })
  const isThere = !now.some(one => one.away)
  return others.length === 0 ? [personId] : [...new Set([...others, ...(isThere ? [personId] : [])])]
}

async function decisionDetails(
  call: Write,
  request: KnownRequisition,
  step: KeptStep,
  askedId: string,
  readerId: string,
): Promise<typeof NOTHING> {
  const names = await personNames(call, [askedId])
  const inPlace = readerId === askedId ? '' : (names.get(askedId) ?? '')
  if ((await mailWish(call, readerId)).decisions === 'short') return { ...NOTHING, inPlace }
  const { wayDays } = await decideSettings(call)
  const expiresAt = new Date(Date.parse(call.now) + wayDays * DAY).toISOString()
  const way = await newWay(call, {
    consentId: request.consent!.id,
    stepId: step.id,
    personId: readerId,
    seenHash: seenHash(request),
    expiresAt,
  })
  const person = await call.trx('people').where({ id: readerId }).first('locale')
  const language = languageOf(person?.locale ?? '', call.house.languages)
  return {
    ...((await readSetting(call, 'mailIn')) === true
      ? { answerTo: `${MAIL_PREFIX}${tokenOf(way, 'm')}`, answer: '1' }
      : { answerTo: '', answer: '' }),
    why: originOfStep(step)
      .rules.map(rule => [rule.name, rule.costCentre].filter(Boolean).join(', '))
      .join('; '),
    ...(await contentOf(call, request, language)),
    yes: `/answer/${tokenOf(way, 'y')}`,
    no: `/answer/${tokenOf(way, 'n')}`,
    until: expiresAt.slice(0, 10),
    inPlace,
  }
}

/** Lines, what is left on the accounts once this is bought, and how prices compare with last time, as lines of text. */
async function contentOf(
  call: Write,
  request: KnownRequisition,
  language: string,
): Promise<{ lines: string; budget: string; past: string; changes: string }> {
  const rows = liveLines(request.rows)
  const context = await lineContext(call, rows, false)
  const past = await lastTimes(call, request.id, rows, context.rates)
  const amount = (value: bigint): string => writtenFigure(formatAmount(minor(value), call.base), language)
  const accountIds = [...new Set(rows.flatMap(line => line.splits.map(split => split.accountId)))]
  const accounts = await call.trx('budgetAccounts').whereIn('id', accountIds).orderBy(['costCentre', 'naturalAccount'])
  const sums = await budgetSums(call, accountIds)
  return {
    lines: rows
      .map(line => {
        const count = line.kind === 'goods' ? `, ${writtenFigure(tidy(line.quantity), language)} ${writeUnit(language as 'en', line.unit)}` : '' // prettier-ignore
        return `· ${line.description}${count}: ${amount(line.baseAmount)} ${call.base}`
      })
      .join('\n'),
    changes: changesText(await shownChanges(call, request, true)),
    budget: accounts
      .map(account => `· ${accountLabel(account)}: ${amount(available(sums.get(account.id)!))} ${call.base}`)
      .join('\n'),
    past: rows
      .flatMap(line => {
        const then = past.get(line.id)
        return then ? [`· ${line.description}: ${then.percent > 0 ? '+' : ''}${then.percent} % (${then.day})`] : []
      })
      .join('\n'),
  }
}
