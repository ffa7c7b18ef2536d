import anyAscii from 'any-ascii'

/** ISO 9:1995, one Latin letter for each Cyrillic one. */
const CYRILLIC: ReadonlyMap<string, string> = new Map(
  Object.entries({
    а: 'a', б: 'b', в: 'v', г: 'g', ґ: 'g', д: 'd', ѓ: 'ǵ', ђ: 'đ', е: 'e', ё: 'ë', є: 'ê', ж: 'ž', з: 'z', ѕ: 'ẑ', и: 'i', і: 'ì', ї: 'ï', й: 'j', ј: 'ǰ', к: 'k', ќ: 'ḱ', л: 'l', љ: 'l̂', м: 'm', н: 'n', њ: 'n̂', о: 'o', п: 'p',
    р: 'r', с: 's', т: 't', ћ: 'ć', у: 'u', ў: 'ŭ', ф: 'f', х: 'h', ц: 'c', ч: 'č', џ: 'd̂', ш: 'š', щ: 'ŝ', ъ: '', ы: 'y', ь: '', э: 'è', ю: 'û', я: 'â',
  }),
) // prettier-ignore

/** ISO 843:1997, type 1 (transliteration), letter by letter. */
const GREEK: ReadonlyMap<string, string> = new Map(
  Object.entries({
    α: 'a', β: 'v', γ: 'g', δ: 'd', ε: 'e', ζ: 'z', η: 'ī', θ: 'th', ι: 'i', κ: 'k', λ: 'l', μ: 'm', ν: 'n', ξ: 'x', ο: 'o', π: 'p', ρ: 'r', σ: 's', ς: 's', τ: 't', υ: 'y', φ: 'f', χ: 'ch', ψ: 'ps', ω: 'ō',
  }),
) // prettier-ignore

/** Upper case stays upper case; of several letters only the first. */
function transliterate(letter: string): string {
  const small = letter.toLowerCase()
  const bare = small.normalize('NFD').replace(/\p{M}/gu, '')
  const latin = CYRILLIC.get(small) ?? GREEK.get(small) ?? GREEK.get(bare) ?? CYRILLIC.get(bare)
  if (latin === undefined) return letter
  return small === letter ? latin : latin.charAt(0).toUpperCase() + latin.slice(1)
}

/** What is written where nothing of a text is left, as banks know it. */
export const NOT_PROVIDED = 'NOTPROVIDED'

/**
 * A text in the characters that every bank takes (SWIFT character set x; EPC 217-08), never blank: letters of other scripts are
 * transliterated, Greek by ISO 843, Cyrillic by ISO 9, marks taken off; an ampersand becomes a plus, other signs outside
 * the set become blanks.
 *
 * bankText('Straßenbau Größe', 70) //=> 'Strassenbau Grosse'
 * bankText('北京泵业', 70) //=> 'BeiJingBengYe'
 */
export function bankText(text: string, most: number): string {
  const known = [...text.normalize('NFC')].map(transliterate).join('')
  const bare = known
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^\p{L}\p{N}\p{P}\p{Z}+]/gu, ' ')
  const plain = anyAscii(bare)
    .replaceAll('&', '+')
    .replace(/[^A-Za-z0-9/\-?:().,'+ ]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, most)
    .trim()
  return /[A-Za-z0-9]/.test(plain) ? plain : NOT_PROVIDED
}
