/**
 * Whether two texts are the same document number, however outsiders write it: small letters, hyphens, blanks and noughts in front do not count.
 *
 * sameNumber('o 04034', 'O-4034') //=> true
 */
export function sameNumber(a: string, b: string): boolean {
  const plain = (text: string): string =>
    text
      .toUpperCase()
      .replace(/[\s-]/g, '')
      .replace(/^(\D*)0+(?=\d+$)/, '$1')
  return plain(a) === plain(b)
}
