export type Details = Readonly<Record<string, string | number>>

/**
 * A text with its details put in. `{detail}` is filled in; `[detail|…]` stands only where the detail says something.
 *
 * fill('Order {number}[by|, by {by}]', { number: 'O-1', by: '' }) //=> 'Order O-1'
 */
export function fill(text: string, details: Details): string {
  const said = (name: string): string => (Object.hasOwn(details, name) ? String(details[name]) : '')
  return text
    .replace(/\[(\w+)\|([^\]]*)\]/g, (_, name: string, part: string) => (said(name) === '' ? '' : part))
    .replace(/\{(\w+)\}/g, (_, name: string) => said(name))
}
