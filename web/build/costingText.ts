import { regionOf } from '#core/build/regions.ts'
import type { Costing, Settings } from '#web/build/useCosting.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { day } from '#web/shared/words.ts'

/** How far the curve goes for a number of builds: a round number well beyond it. curveEnd(48) //=> 160 */
export function curveEnd(builds: number): number {
  const wanted = Math.max(40, builds * 2.5)
  const size = 10 ** Math.floor(Math.log10(wanted))
  const round = [1, 1.6, 2, 2.5, 3, 4, 5, 6, 8, 10].find(one => one * size >= wanted)! * size
  return Math.min(2000, Math.max(40, Math.round(round)))
}

/** A part of the sentence that says how a build is bought, with what it is about. */
export interface Said {
  readonly before: string
  readonly text: string
  readonly about: string
}

/** How a build is bought, as a sentence: cheapest of all in EUR, from anywhere, in any pack … */
export function settingsSentence(settings: Settings, known: Costing['known']): Said[] {
  const names = settings.preferred.map(id => known.suppliers.find(one => one.id === id)?.name ?? '').filter(Boolean)
  const policy = laterLabel('build policy', settings.policy)
  const who = settings.policy === 'preferred' && names.length > 0 ? `${policy} (${names.join(', ')})` : policy
  const { percent, pieces } = settings.wastage
  const categories = Object.keys(settings.wastageByCategory).length
  const wastage = [Number(percent) ? `${percent} %` : '', Number(pieces) ? `${pieces} pcs` : '']
    .filter(Boolean)
    .join(' and ')
  return [
    { before: 'Buy', text: who, about: 'policy' },
    { before: ' in', text: settings.currency, about: 'currency' },
    { before: ', from', text: placesText(settings.countries, known), about: 'countries' },
    { before: ',', text: laterLabel('build packing', settings.packing), about: 'packing' },
    {
      before: ',',
      text: settings.excess ? 'more than needed where that is cheaper' : 'exactly what is needed',
      about: 'excess',
    },
    { before: ', all in by', text: settings.inBy === '' ? 'whenever it comes' : day(settings.inBy), about: 'inBy' },
    ...(settings.stockedOnly ? [{ before: ',', text: 'only what lies there', about: 'stockedOnly' }] : []),
    {
      before: ', with',
      text: `${wastage || 'no'} wastage${categories > 0 ? ` (other for ${categories} ${categories === 1 ? 'category' : 'categories'})` : ''}`,
      about: 'wastage',
    },
    { before: '; alternates', text: laterLabel('build alternates', settings.alternates), about: 'alternates' },
    {
      before: ';',
      text: settings.ownStock ? 'what is in the house first' : 'nothing from the house',
      about: 'ownStock',
    },
  ]
}

/** Where goods may come from, in words: a region where the countries are just those of one. */
export function placesText(countries: readonly string[], known: Costing['known']): string {
  if (countries.length === 0) return 'anywhere'
  const all = [...new Set(known.offers.map(one => one.country))].filter(Boolean)
  return regionOf(countries, all) ?? countries.join(', ')
}

/** A part that wants a look stands before one that does not: without a price first, then what is to check, then by what it costs. */
export const wantsLook = (notes: readonly { readonly level: string }[]): number =>
  notes.some(one => one.level === 'stop') ? 0 : notes.some(one => one.level === 'check') ? 1 : 2
