import { randomUUID } from 'node:crypto'
import { type EventKind, NEW_KIND } from '#core/source/eventKind.ts'
import { publishEventKind, saveEventKind } from '#server/source/eventKindActs.ts'
import type { As } from '#demo/load.ts'

const TERMS = {
  en: 'Prices are binding for thirty days and without value added tax. Whoever answers keeps what is asked to itself. We may award line by line.',
  de: 'Preise gelten dreißig Tage und ohne Mehrwertsteuer. Wer antwortet, behält die Anfrage für sich. Wir können Zeile für Zeile vergeben.',
}

/** The kinds of event of the house. */
export const KINDS: readonly { readonly name: string; readonly prefix: string; readonly settings: EventKind }[] = [
  {
    name: 'Quote request',
    prefix: 'E-',
    settings: {
      ...NEW_KIND,
      pricing: 'components',
      components: [
        { key: 'freight', name: 'Freight', basis: 'perLot', kind: 'freight' },
        { key: 'tooling', name: 'Tooling', basis: 'perLine', kind: 'other' },
      ],
      texts: [
        {
          key: 'packing',
          name: 'Packing',
          place: 'head',
          seenBy: 'both',
          writtenBy: 'us',
          carried: true,
          words: {
            en: 'Pallets no higher than 1.60 m: the quay gate is low.',
            de: 'Paletten nicht höher als 1,60 m: das Tor am Kai ist niedrig.',
          },
        },
        { key: 'ourAim', name: 'What we hope for', place: 'head', seenBy: 'us', writtenBy: 'us', carried: false, words: {} },
      ],
      terms: TERMS,
      tells: 'place',
      landed: { ...NEW_KIND.landed, insurancePercent: '0.4', insured: '1.1', interestPercent: '4' },
    },
  },
  {
    name: 'Quote request for work',
    prefix: 'W-',
    settings: {
      ...NEW_KIND,
      bought: 'work',
      sealed: true,
      alternatives: false,
      partQuantity: false,
      terms: TERMS,
      tells: 'winningPrice',
      sections: [
        {
          title: 'How you work',
          weight: '70',
          questions: [
            { key: 'method', label: 'How would you go about it?', kind: 'text', choices: [], must: '', required: true, scoredBy: 'people', points: {}, most: '10', weight: '3' },
            { key: 'team', label: 'Who would come?', kind: 'text', choices: [], must: '', required: true, scoredBy: 'people', points: {}, most: '10', weight: '2' },
          ],
        },
        {
          title: 'What you have',
          weight: '30',
          questions: [
            { key: 'insured', label: 'Is your liability insured up to 2 million?', kind: 'yesNo', choices: [], must: 'yes', required: true, scoredBy: 'nobody', points: {}, most: '1', weight: '0' },
            { key: 'near', label: 'How soon can you be at the quay?', kind: 'choice', choices: ['within a day', 'within three days', 'later'], must: '', required: true, scoredBy: 'rule', points: { 'within a day': '10', 'within three days': '6', later: '0' }, most: '10', weight: '1' },
          ],
        },
      ],
      criteria: [
        { key: 'price', weight: '60' },
        { key: 'questions', weight: '40' },
      ],
      formula: 'lowestRatio',
    },
  },
  {
    name: 'Reverse auction',
    prefix: 'A-',
    settings: {
      ...NEW_KIND,
      format: 'auction',
      alternatives: false,
      partQuantity: false,
      terms: TERMS,
      lot: {
        minutes: 60,
        step: { kind: 'amount', value: '5', against: 'own' },
        extension: { withinSeconds: 300, bySeconds: 300, from: 'end', places: 1, most: 4 },
        shows: { place: true, best: false, bidders: false },
      },
    },
  },
] // prettier-ignore

/** Puts the kinds of event to use, as the steward does; says which is which by its name. */
export async function addEventKinds(as: As, at: string): Promise<Map<string, string>> {
  const ids = new Map<string, string>()
  for (const { name, prefix, settings } of KINDS)
    await as('wren', at, async call => {
      const range = { prefix, digits: 0, next: '1001', last: '99999' }
      const saved = await saveEventKind(call, { code: randomUUID(), version: 0, name, settings: settings as never, range, outside: null }) // prettier-ignore
      await publishEventKind(call, saved.id, saved.version)
      ids.set(name, saved.id)
    })
  return ids
}
