import { type Reason, note } from '#core/reasons.ts'
import { normalName } from '#core/source/names.ts'
import { table } from '#core/text/table.ts'

/** How the team writes suppliers' names. They are proposed, never imposed. */
export interface NamingRules {
  /** `asGiven`: as it stands · `words`: a capital at the start of each word when all letters are capitals or none is · `upper`: all capitals. */
  readonly capitals: 'asGiven' | 'words' | 'upper'
  /** `keep`: as given · `dotless`: without dots (B.V. → BV) · `drop`: without the legal form. */
  readonly legalForm: 'keep' | 'dotless' | 'drop'
  readonly trailingDots: 'keep' | 'drop'
}

export const USUAL_NAMING: NamingRules = { capitals: 'words', legalForm: 'dotless', trailingDots: 'drop' }

const SMALL = new Set([
  'and',
  'und',
  'et',
  'og',
  'och',
  'en',
  'de',
  'du',
  'des',
  'del',
  'da',
  'do',
  'van',
  'von',
  'der',
  'la',
  'le',
  'les',
  'of',
  'the',
  'y',
  'e',
  'i',
])
const capital = (word: string): string => word.slice(0, 1).toUpperCase() + word.slice(1)

/**
 * The name as the rules would write it; the same text when it follows them already.
 *
 * proposedName('ALDIS MEMBRANE LTD.', USUAL_NAMING) //=> 'Aldis Membrane Ltd'
 */
export function proposedName(name: string, rules: NamingRules): string {
  let text = name.normalize('NFC').replace(/\s+/g, ' ').trim()
  const words = text.split(' ')
  const lastWords = Math.max(0, words.length - normalName(text).words.length)
  if (rules.legalForm === 'drop' && lastWords > 0 && lastWords < words.length)
    text = words.slice(0, -lastWords).join(' ').replace(/[,;]$/, '')
  if (rules.legalForm === 'dotless')
    text = text.replace(/(?<=\s)((?:\p{L}\.){2,}\p{L}?\.?)$/u, dotted => dotted.replaceAll('.', ''))
  if (rules.trailingDots === 'drop') text = text.replace(/[\s.,;]+$/, '')
  if (rules.capitals === 'upper') return text.toUpperCase()
  if (rules.capitals === 'asGiven') return text
  const letters = text.replace(/\P{L}/gu, '')
  const shouting = letters.length > 4 && letters === letters.toUpperCase() && letters !== letters.toLowerCase()
  const whispering = letters.length > 4 && letters === letters.toLowerCase() && letters !== letters.toUpperCase()
  if (!shouting && !whispering) return text
  return text
    .toLowerCase()
    .split(' ')
    .map((word, index) => (SMALL.has(word) && index > 0 ? word : word.split('-').map(capital).join('-')))
    .map((word, index, all) =>
      index === all.length - 1 && index > 0 && normalName(text).form === word.toLowerCase().replaceAll('.', '')
        ? formSpelling(word)
        : word,
    )
    .join(' ')
}

const SPELLINGS: Readonly<Record<string, string>> = table({
  gmbh: 'GmbH',
  ltd: 'Ltd',
  limited: 'Limited',
  inc: 'Inc',
  aps: 'ApS',
  sarl: 'SARL',
  lda: 'Lda',
  company: 'Company',
  plc: 'plc',
})
const formSpelling = (word: string): string =>
  SPELLINGS[word.toLowerCase()] ?? (word.length <= 4 ? word.toUpperCase() : word)

/** A note with the proposal when the name is written otherwise. */
export function namingNotes(name: string, rules: NamingRules): Reason[] {
  const proposal = proposedName(name, rules)
  return proposal === name.trim() || proposal === '' ? [] : [note('source.naming', { proposal }, { place: 'name' })]
}
