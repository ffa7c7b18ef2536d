import { splitLegalForm } from '#core/source/legalForms.ts'
import { table } from '#core/text/table.ts'

/** A name made comparable. */
export interface NormalName {
  /** Words in their order, without the legal form. */
  readonly words: readonly string[]
  /** The legal form without blanks, or ''. */
  readonly form: string
  /** All words joined in their order: `nordhavnpumpeverk`. */
  readonly joined: string
  /** Words in the order of the alphabet, one blank between. */
  readonly key: string
}

/** ISO 9 with the usual digraphs, as passports and letterheads write it; Bulgarian and Ukrainian letters included. */
const CYRILLIC: Readonly<Record<string, string>> = table({
  а: 'a', б: 'b', в: 'v', г: 'g', ґ: 'g', д: 'd', е: 'e', ё: 'e', є: 'ye', ж: 'zh', з: 'z', и: 'i', і: 'i', ї: 'yi', й: 'y', к: 'k', л: 'l', м: 'm', н: 'n', о: 'o', п: 'p', р: 'r', с: 's', т: 't',
  у: 'u', ф: 'f', х: 'kh', ц: 'ts', ч: 'ch', ш: 'sh', щ: 'shch', ъ: '', ы: 'y', ь: '', э: 'e', ю: 'yu', я: 'ya',
}) // prettier-ignore
/** ELOT 743 (ISO 843), with its digraphs before the single letters. */
const GREEK: readonly (readonly [string, string])[] = [
  ['ου', 'ou'], ['αυ', 'av'], ['ευ', 'ev'], ['γγ', 'ng'], ['γξ', 'nx'], ['γχ', 'nch'], ['μπ', 'b'], ['ντ', 'nt'], ['α', 'a'], ['β', 'v'], ['γ', 'g'], ['δ', 'd'], ['ε', 'e'], ['ζ', 'z'], ['η', 'i'], ['θ', 'th'], ['ι', 'i'], ['κ', 'k'], ['λ', 'l'],
  ['μ', 'm'], ['ν', 'n'], ['ξ', 'x'], ['ο', 'o'], ['π', 'p'], ['ρ', 'r'], ['σ', 's'], ['ς', 's'], ['τ', 't'], ['υ', 'y'], ['φ', 'f'], ['χ', 'ch'], ['ψ', 'ps'], ['ω', 'o'],
] // prettier-ignore
const LETTERS: Readonly<Record<string, string>> = table({ ä: 'ae', ö: 'oe', ü: 'ue', ß: 'ss', ø: 'oe', å: 'aa', æ: 'ae', œ: 'oe', ð: 'd', þ: 'th', ł: 'l', đ: 'd', ı: 'i', ħ: 'h', ŋ: 'n' }) // prettier-ignore
const JOINING = new Set(['and', 'und', 'et', 'og', 'och', 'en', 'ja', 'kai', 've', 'the', 'oraz', 'i', 'y', 'e'])
const ABBREVIATIONS: Readonly<Record<string, string>> = table({
  intl: 'international', int: 'international', internationaal: 'international', mfg: 'manufacturing', manuf: 'manufacturing', svc: 'services', svcs: 'services', service: 'services', bros: 'brothers', gebr: 'gebrueder', eng: 'engineering', engg: 'engineering',
  ind: 'industries', inds: 'industries', industry: 'industries', assoc: 'associates', assocs: 'associates', lab: 'laboratory', labs: 'laboratory', laboratories: 'laboratory', labor: 'laboratory', hldg: 'holding', hldgs: 'holding', holdings: 'holding', grp: 'group', tech: 'technology',
  technologies: 'technology', sys: 'systems', system: 'systems', equip: 'equipment', dist: 'distribution', trdg: 'trading', st: 'saint', ste: 'saint', sankt: 'saint', mt: 'mount', ctr: 'center', centre: 'center', dept: 'department', univ: 'university', nat: 'national', natl: 'national',
  maschbau: 'maschinenbau', hnos: 'hermanos', gebroeders: 'gebrueder', fratelli: 'fratelli', flli: 'fratelli', vd: 'vander', cie: 'compagnie', ets: 'etablissements', supplies: 'supply', works: 'work', products: 'product', solutions: 'solution', pumps: 'pump', gifts: 'gift', printers: 'printer', fasteners: 'fastener', fastenings: 'fastening', membranes: 'membrane', valves: 'valve',
}) // prettier-ignore

const transliterate = (text: string): string => {
  const greek = /\p{Script=Greek}/u.test(text)
    ? GREEK.reduce((all, [from, to]) => all.replaceAll(from, to), text)
    : text
  return [...greek].map(letter => CYRILLIC[letter] ?? letter).join('')
}

/** Letters as ASCII: diacritics off, ü as ue, Cyrillic and Greek transliterated. plainLetters('Müller Œuvres') //=> 'mueller oeuvres' */
export function plainLetters(text: string): string {
  const composed = text.normalize('NFKC').toLowerCase().normalize('NFC')
  const known = [...composed].map(letter => LETTERS[letter] ?? letter).join('')
  const bare = known.normalize('NFD').replace(/\p{M}/gu, '').normalize('NFC')
  return transliterate(bare)
}

/** Spellings of one sound brought together: ü, ue and u; ph and f; the ways of writing Cyrillic х, й and ю. */
export const foldWord = (word: string): string =>
  word
    .replace(/ae/g, 'a')
    .replace(/oe/g, 'o')
    .replace(/ue/g, 'u')
    .replace(/aa/g, 'a')
    .replace(/x/g, 'ks')
    .replace(/kh/g, 'h')
    .replace(/ph/g, 'f')
    .replace(/([aeiou])y(?=[^aeiou]|$)/g, '$1i')
    .replace(/iy$|yi$|ii$|ij$|yy$/, 'i')
    .replace(/ya$/, 'ia')
    .replace(/j(?=[aou])/g, 'y')
    .replace(/([b-df-hj-np-tv-z])\1/g, '$1')

/**
 * A name without case, diacritics, punctuation, legal form and joining words, with common abbreviations written out.
 *
 * normalName('Peltier & Soane Acrylics G.m.b.H.') //=> { words: ['peltier', 'soane', 'acrylics'], form: 'gmbh', joined: 'peltiersoaneacrylics', key: 'acrylics peltier soane' }
 */
export function normalName(name: string): NormalName {
  const letters = plainLetters(name.slice(0, 300))
    .replace(/\ba\/s\b/g, 'as')
    .replace(/\bi\/s\b/g, 'is')
    .replace(/\bk\/s\b/g, 'ks')
    .replace(/\b((?:\p{L}\.){2,}\p{L}?)(?!\p{L})/gu, dotted => ` ${dotted.replaceAll('.', '')} `)
    .replace(/['’‘`´]/g, '')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .replace(/\b(?:van|von) (?:der|den|de)\b/g, 'vander')
    .trim()
  const split = splitLegalForm(letters.split(' ').filter(Boolean))
  const inner = split.words.filter(
    (word, index) =>
      !(JOINING.has(word) && index > 0 && index < split.words.length - 1) &&
      !(word === 'the' && index === 0 && split.words.length > 1),
  )
  const words = inner.map(word => foldWord(ABBREVIATIONS[word] ?? word)).filter(Boolean)
  return { words, form: split.form, joined: words.join(''), key: [...words].sort().join(' ') }
}
