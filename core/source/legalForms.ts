/**
 * Legal forms as they stand in names, without dots, blanks and case, with the countries they belong to. Source: ISO 20275 (Entity
 * Legal Forms) for what exists where; the spellings are those that letterheads use.
 */
const FORMS: readonly (readonly [countries: string, spellings: string])[] = [
  [
    'DE AT',
    'gmbh|gesellschaft mit beschraenkter haftung|gmbh co kg|gmbh und co kg|ag co kg|ohg|ug|ug haftungsbeschraenkt|eg|e v|ev|e k|ek|ekfm|gbr|mbh',
  ],
  ['DE AT CH LI', 'ag|kg|aktiengesellschaft|kommanditgesellschaft|einzelunternehmen'],
  ['CH', 'sagl|genossenschaft'],
  ['NL BE', 'bv|nv|vof|cv|besloten vennootschap|naamloze vennootschap|bvba|bvba sprl|comm v|coop|eenmanszaak'],
  ['FR BE CH LU', 'sa|sarl|sas|sasu|eurl|snc|sci|scop|sprl|srl|societe anonyme|societe a responsabilite limitee'],
  ['GB IE', 'ltd|limited|plc|public limited company|llp|cic|dac|unlimited'],
  ['US CA', 'inc|incorporated|corp|corporation|llc|lp|co|company|pllc'],
  ['NO', 'as|asa|ans|enk|nuf|sa|da|aksjeselskap|samvirkeforetak'],
  ['DK', 'aps|as|is|ks|ivs|amba|anpartsselskab|aktieselskab'],
  ['SE', 'ab|hb|kb|aktiebolag|handelsbolag|publ|ab publ'],
  ['FI', 'oy|oyj|ky|ay|oy ab|osakeyhtio|tmi'],
  ['IT', 'srl|spa|snc|sas|srls|scarl|societa per azioni|societa a responsabilita limitata|soc coop'],
  ['ES', 'sl|sa|slu|sau|slne|scl|sociedad limitada|sociedad anonima|s coop'],
  ['PT', 'lda|sa|unipessoal lda|limitada|sociedade unipessoal lda'],
  ['PL', 'sp z o o|sp z oo|sp zo o|spzoo|sp zoo|z oo|sa|sp k|sp j|spolka z o o|spolka akcyjna'],
  ['CZ SK', 'sro|s r o|a s|as|spol s r o'],
  ['HU', 'kft|zrt|nyrt|bt'],
  ['JP', 'kk|yk|gk|kabushiki kaisha|kabushiki gaisha|godo kaisha|co ltd'],
  ['BG', 'ood|eood|ad|ead'],
  ['RU UA', 'ooo|oao|zao|pao|ao|tov|tzov|prat|ip'],
  ['GR CY', 'a e|ae|e p e|epe|ike|i k e|o e|oe'],
  ['EE LV LT', 'ou|as|sia|uab'],
  ['HR SI RS', 'doo|d o o|dd|d d'],
  ['CN HK SG IN AU', 'pte ltd|pty ltd|pvt ltd|co ltd'],
]

const COUNTRIES = new Map<string, readonly string[]>()
for (const [countries, spellings] of FORMS)
  for (const spelling of spellings.split('|'))
    COUNTRIES.set(spelling, [...new Set([...(COUNTRIES.get(spelling) ?? []), ...countries.split(' ')])])

/** The longest spelling in words. */
const LONGEST = 5
/** Forms that stand before the name: OOO Morskaya Sol, Oy Merilaite Ab, TOV, KK. */
const LEADING = new Set([
  'ooo',
  'oao',
  'zao',
  'pao',
  'ao',
  'tov',
  'tzov',
  'prat',
  'ip',
  'oy',
  'ab',
  'kk',
  'yk',
  'kabushiki kaisha',
  'kabushiki gaisha',
  'godo kaisha',
  'sia',
  'uab',
  'soc coop',
  'scop',
  'ood',
  'as',
])

/** Takes the legal form off a name's words: splitLegalForm(['kroonvis', 'bv']) //=> { words: ['kroonvis'], form: 'bv' }. A name that is nothing else is left whole. */
export function splitLegalForm(all: readonly string[]): { words: string[]; form: string } {
  let words = [...all]
  const forms: string[] = []
  for (let again = true; again;) {
    again = false
    for (let length = Math.min(LONGEST, words.length - 1); length > 0 && !again; length--) {
      const tail = words.slice(-length).join(' ')
      const head = words.slice(0, length).join(' ')
      if (COUNTRIES.has(tail)) {
        forms.unshift(tail)
        words = words.slice(0, -length)
        again = true
      } else if (LEADING.has(head)) {
        forms.unshift(head)
        words = words.slice(length)
        again = true
      }
    }
  }
  return { words, form: forms.join(' ').replaceAll(' ', '') }
}

/** Countries in which a form is used; empty when it is none. */
export const countriesOf = (form: string): readonly string[] => COUNTRIES.get(form) ?? []
