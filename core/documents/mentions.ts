import type { Message } from '#core/acts/decision.ts'
import { type DeskEntry, forPerson, type Stage, STAGES } from '#core/desk/entry.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** A note that names people, beside a document. */
export interface MentioningNote {
  readonly id: string
  readonly text: string
  readonly at: string
  readonly by: string
  /** Where the document's page is, its number and what it is called. */
  readonly path: string
  readonly number: string
  readonly title: string
}

/** Somebody whom a note names. */
export interface Mentioned {
  readonly personId: string
  readonly name: string
  /** Their account is open. */
  readonly active: boolean
  readonly seesDocument: boolean
}

/** As many people can be named in one note. */
export const MOST_MENTIONED = 20

/** What stands against naming somebody: who has left reads nothing, and nobody is led to what they may not see. */
export const whyNotMention = (people: readonly Mentioned[]): Reason[] =>
  people.flatMap(({ name, active, seesDocument }) => {
    if (!active) return [stop('person.closed', { name }, { place: 'text' })]
    return seesDocument ? [] : [stop('note.cannotSee', { name }, { place: 'text' })]
  })

const stageOf = (path: string): Stage => STAGES.find(stage => stage === path.split('/')[1]) ?? 'request'

/** A note waits for those whom it names until they have seen it. `unseen`: of whom that is still to come. */
export const mentionDesk = (note: MentioningNote, unseen: readonly string[]): DeskEntry[] =>
  unseen.length === 0
    ? []
    : [
        {
          key: 'mentioned',
          stage: stageOf(note.path),
          act: 'see',
          tone: 'plain',
          audiences: unseen.map(forPerson),
          notFor: [],
          from: null,
          amount: null,
          currency: null,
          since: note.at,
          needBy: null,
          path: note.path,
          details: { who: note.by, number: note.number, title: note.title, extra: shortened(note.text) },
        },
      ]

/** Letters of a note that a Desk shows. */
const SHOWN = 140
const shortened = (text: string): string => (text.length <= SHOWN ? text : `${text.slice(0, SHOWN).trimEnd()} …`)

/** Whoever is named is told by mail, too. */
export const mentionMails = (note: MentioningNote, personIds: readonly string[]): Message[] =>
  personIds.map(id => ({
    template: 'note.mentioned',
    to: { kind: 'person', id },
    key: `note:${note.id}:${id}`,
    details: { number: note.number, title: note.title, by: note.by, text: note.text, path: note.path },
  }))
