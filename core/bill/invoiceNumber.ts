/** Invoice numbers compare without case, spaces, punctuation and leading zeros. normalNumber('inv-0042 / A') //=> 'INV42A' */
export const normalNumber = (number: string): string =>
  number
    .normalize('NFKC')
    .toUpperCase()
    .replace(/[^\p{L}\p{N}]/gu, '')
    .replace(/(^|\D)0+(?=\d)/g, '$1')
