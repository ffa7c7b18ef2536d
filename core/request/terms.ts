import { check, note, type Reason, stop } from '#core/reasons.ts'
import { INCOTERMS } from '#core/source/defaults.ts'

/** Incoterms 2020 (ICC publication 723): under these the buyer pays the main carriage. */
const BUYER_PAYS_CARRIAGE: readonly string[] = ['EXW', 'FCA', 'FAS', 'FOB']

export interface TermSettings {
  /** Empty: all of them. */
  readonly allowed: readonly string[]
  readonly preferred: readonly string[]
  /** Why a term is not allowed, by term. */
  readonly because: Readonly<Record<string, string>>
}
export const ANY_TERM: TermSettings = { allowed: [], preferred: [], because: {} }

export interface Term {
  readonly incoterm: string
  readonly place: string
}
export interface EffectiveTerm extends Term {
  readonly from: 'line' | 'agreement' | 'offer' | 'supplier' | 'none'
}

/** A line's own term wins over the agreement's or offer's, that over the supplier's default; empty means what the next one says. */
export function effectiveTerm(
  line: Term,
  offer: (Term & { readonly agreement: string }) | null,
  supplier: Term | null,
): EffectiveTerm {
  if (line.incoterm !== '') return { ...line, from: 'line' }
  if (offer && offer.incoterm !== '')
    return { incoterm: offer.incoterm, place: offer.place, from: offer.agreement === '' ? 'offer' : 'agreement' }
  if (supplier && supplier.incoterm !== '') return { ...supplier, from: 'supplier' }
  return { incoterm: '', place: '', from: 'none' }
}

/** What is wrong with a term: unknown, without the place that Incoterms 2020 require, not allowed here, or not the preferred one. */
export function checkTerm(term: EffectiveTerm, settings: TermSettings, position: number): Reason[] {
  const extra = { place: `lines.${position}.incoterm` }
  if (term.incoterm === '') return []
  if (!(INCOTERMS as readonly string[]).includes(term.incoterm))
    return [stop('term.unknown', { incoterm: term.incoterm }, extra)]
  const reasons: Reason[] = []
  if (term.place.trim() === '')
    reasons.push((term.from === 'line' ? stop : note)('term.noPlace', { incoterm: term.incoterm }, extra))
  const allowed = settings.allowed.length === 0 || settings.allowed.includes(term.incoterm)
  if (!allowed)
    reasons.push(
      (term.from === 'line' ? stop : check)(
        'term.notAllowed',
        {
          incoterm: term.incoterm,
          because: settings.because[term.incoterm] ?? '',
          allowed: settings.allowed.join(', '),
        },
        extra,
      ),
    )
  else if (term.from === 'line' && settings.preferred.length > 0 && !settings.preferred.includes(term.incoterm))
    reasons.push(
      note('term.notPreferred', { incoterm: term.incoterm, preferred: settings.preferred.join(', ') }, extra),
    )
  return reasons
}

/** What the requester says about freight that the term leaves to us: nothing yet, a line of its own, it is in the price after all, or not wanted. */
export const FREIGHT_ANSWERS = ['', 'own', 'included', 'notWanted'] as const
export type FreightAnswer = (typeof FREIGHT_ANSWERS)[number]

/** Whether somebody has to see to carriage: the term leaves it to the buyer, the goods move, and nobody said how. Sales at the works of our own site do not move. */
export const wantsFreight = (term: Term, line: { readonly moves: boolean; readonly freight: FreightAnswer }): boolean =>
  line.moves && line.freight === '' && BUYER_PAYS_CARRIAGE.includes(term.incoterm)
