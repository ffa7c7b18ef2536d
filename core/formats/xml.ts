import { SaxesParser } from 'saxes'
import { RuleBroken, stop } from '#core/reasons.ts'

/** An element of a strictly parsed document. Text is kept as written: numbers and leading zeros are never interpreted. */
export interface XmlElement {
  readonly name: string
  readonly namespace: string
  readonly attributes: Readonly<Record<string, string>>
  readonly children: readonly XmlElement[]
  readonly text: string
}

interface Building {
  name: string
  namespace: string
  attributes: Record<string, string>
  children: Building[]
  text: string
}

const MOST_ELEMENTS = 400_000
const MOST_DEPTH = 60

/**
 * Parses a well-formed XML 1.0 document with namespaces. A document type declaration is refused whole, so neither external nor
 * expanding entities are ever looked at (OWASP: XML external entity prevention).
 *
 * @throws RuleBroken xml.notWellFormed | xml.doctype | xml.tooLarge
 */
export function parseXml(text: string): XmlElement {
  const parser = new SaxesParser({ xmlns: true, position: true })
  const open: Building[] = []
  let root: Building | undefined
  let count = 0
  const refuse = (code: string, details: Record<string, string | number> = {}): never => {
    throw new RuleBroken(stop(code, { line: parser.line, ...details }))
  }
  parser.on('error', error =>
    refuse('xml.notWellFormed', { fault: error.message.replace(/^\d+:\d+: /, '').slice(0, 120) }),
  )
  parser.on('doctype', () => refuse('xml.doctype'))
  parser.on('opentag', tag => {
    if (++count > MOST_ELEMENTS || open.length >= MOST_DEPTH) refuse('xml.tooLarge', { elements: MOST_ELEMENTS })
    const attributes: Record<string, string> = {}
    for (const [name, attribute] of Object.entries(tag.attributes)) attributes[name] = attribute.value
    const element: Building = { name: tag.local, namespace: tag.uri, attributes, children: [], text: '' }
    open.at(-1)?.children.push(element)
    root ??= element
    open.push(element)
  })
  const keep = (part: string): void => {
    const current = open.at(-1)
    if (current) current.text += part
  }
  parser.on('text', keep)
  parser.on('cdata', keep)
  parser.on('closetag', () => {
    open.pop()
  })
  parser.write(text).close()
  return root ?? refuse('xml.notWellFormed', { fault: 'there is no element' })
}

/**
 * A document without the elements that are not of its own vocabulary, so that nothing foreign is taken for it, and the places where they
 * stood. What stands below an element of the `free` namespace is anybody's and is left out without a word.
 */
export function withoutForeign(
  element: XmlElement,
  isOwn: (child: XmlElement) => boolean,
  free = '',
  place = '',
): { element: XmlElement; foreign: string[] } {
  const foreign: string[] = []
  const children = element.children.flatMap(child => {
    const at = place === '' ? child.name : `${place}/${child.name}`
    if (free !== '' && child.namespace === free) return []
    if (!isOwn(child)) {
      foreign.push(at)
      return []
    }
    const inner = withoutForeign(child, isOwn, free, at)
    foreign.push(...inner.foreign)
    return [inner.element]
  })
  return { element: { ...element, children }, foreign }
}

/** Children of the given name. A document is freed of foreign elements first. */
export const childrenOf = (element: XmlElement | undefined, name: string): readonly XmlElement[] =>
  element ? element.children.filter(child => child.name === name) : []

/** The first element down a path of names, or undefined. find(root, 'AccountingSupplierParty', 'Party') */
export function find(element: XmlElement | undefined, ...path: string[]): XmlElement | undefined {
  return path.reduce<XmlElement | undefined>((current, name) => childrenOf(current, name)[0], element)
}

/** Trimmed text at a path, or the empty string. */
export const textAt = (element: XmlElement | undefined, ...path: string[]): string =>
  find(element, ...path)?.text.trim() ?? ''
