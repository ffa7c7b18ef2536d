import { isValidIBAN } from 'ibantools'
import { currencies } from '#core/money/currency.ts'
import { normalIdentifier } from '#core/source/identifiers.ts'
import { plainLetters } from '#core/source/names.ts'
import { SUPPLIER_COLUMNS } from '#core/source/supplierImport.ts'

export type SupplierColumn = (typeof SUPPLIER_COLUMNS)[number]
export interface Mapped {
  readonly column: SupplierColumn
  /** Place of the file's column, or -1 for none. */
  readonly at: number
  /** Whether the heading or the examples led there. */
  readonly by: 'heading' | 'examples' | 'none'
}

/** Headings that people give their columns, in the languages of the twelve countries most met with. */
const HEADINGS: Readonly<Record<SupplierColumn, string>> = {
  name: 'name|supplier|supplier name|company|company name|vendor|vendor name|firma|naam|leverancier|nom|raison sociale|fournisseur|navn|leverandor|namn|leverantor|nimi|nombre|proveedor|nome|fornecedor|fornitore|nazwa',
  vat: 'vat|vat number|vat no|vat id|ust id|ustid|ust idnr|btw|btw nummer|tva|no tva|mva|moms|momsnr|nif|piva|partita iva|nip|tax id',
  registration:
    'registration|registration number|reg no|kvk|siren|siret|org nr|orgnr|cvr|hrb|company number|register number',
  currency: 'currency|ccy|wahrung|waehrung|valuta|devise|moneda|moeda|waluta',
  terms_days: 'terms days|terms|payment days|days|zahlungsziel|betaaltermijn|delai|betalingsfrist',
  street: 'street|address|address 1|strasse|straat|adres|rue|adresse|gate|gata|calle|rua|via|ulica',
  postal_code: 'postal code|postcode|zip|zip code|plz|code postal|postnummer|postnr|cp|cap|kod pocztowy',
  city: 'city|place|town|ort|stadt|plaats|ville|sted|ort|ciudad|cidade|citta|miasto',
  country: 'country|country code|land|pays|maa|pais|paese|kraj',
  contact_name: 'contact name|contact|ansprechpartner|contactpersoon|interlocuteur|kontakt|kontaktperson|contacto',
  email: 'email|e mail|mail|mail address|courriel|epost|correo',
  phone: 'phone|telephone|tel|telefon|telefoon|puhelin|telefono',
  web: 'web|website|homepage|url|internet',
  iban: 'iban|account|bank account|konto|rekening|compte|kontonummer',
  bic: 'bic|swift|swift code',
  categories: 'categories|category|sells|warengruppe|categorie|kategori',
  trade_name: 'trade name|trading name|other name|also known as|handelsnaam|nom commercial',
}

const plain = (text: string): string =>
  plainLetters(text)
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
const most = (examples: readonly string[], test: (text: string) => boolean): boolean => {
  const given = examples.map(text => text.trim()).filter(Boolean)
  return given.length > 0 && given.filter(test).length >= given.length * 0.7
}
const LOOKS: readonly (readonly [SupplierColumn, (text: string) => boolean])[] = [
  ['iban', text => isValidIBAN(normalIdentifier(text))],
  ['email', text => /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(text)],
  ['web', text => /^(https?:\/\/|www\.)\S+$/i.test(text)],
  ['vat', text => /^[A-Z]{2}[A-Z0-9]{7,14}$/.test(normalIdentifier(text))],
  ['currency', text => currencies.includes(text.toUpperCase())],
  ['country', text => /^[A-Za-z]{2}$/.test(text)],
  ['bic', text => /^[A-Z]{6}[A-Z0-9]{2}([A-Z0-9]{3})?$/.test(text)],
  ['terms_days', text => /^(0|7|8|10|14|15|20|21|28|30|45|60|75|90|120)$/.test(text)],
]

/** Proposes which column of a file is which, first by its heading, then by what stands in it. Every column is used once. */
export function proposeMapping(headings: readonly string[], rows: readonly (readonly string[])[]): Mapped[] {
  const plainHeadings = headings.map(plain)
  const used = new Set<number>()
  const found = new Map<SupplierColumn, Mapped>()
  for (const column of SUPPLIER_COLUMNS) {
    const spellings = [plain(column), ...HEADINGS[column].split('|')]
    const at = plainHeadings.findIndex((heading, index) => !used.has(index) && spellings.includes(heading))
    if (at < 0) continue
    used.add(at)
    found.set(column, { column, at, by: 'heading' })
  }
  for (const [column, looks] of LOOKS) {
    if (found.has(column)) continue
    const at = headings.findIndex(
      (_, index) =>
        !used.has(index) &&
        most(
          rows.map(row => row[index] ?? ''),
          looks,
        ),
    )
    if (at < 0) continue
    used.add(at)
    found.set(column, { column, at, by: 'examples' })
  }
  return SUPPLIER_COLUMNS.map(column => found.get(column) ?? { column, at: -1, by: 'none' })
}

/** A row of the file as our columns name it. */
export const mappedRow = (
  row: readonly string[],
  mapping: readonly Pick<Mapped, 'column' | 'at'>[],
): Record<string, string> =>
  Object.fromEntries(mapping.filter(one => one.at >= 0).map(one => [one.column, row[one.at] ?? '']))
