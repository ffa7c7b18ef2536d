import iconv from 'iconv-lite'
import { RuleBroken, stop } from '#core/reasons.ts'

/**
 * The text of an XML file in the encoding that its byte order mark or declaration says (XML 1.0, appendix F). UTF-8 is read strictly: bytes
 * that are not UTF-8 are refused, never replaced.
 *
 * @throws RuleBroken xml.encoding
 */
export function decodeXml(bytes: Buffer): { text: string; encoding: string } {
  const marked = byteOrderMark(bytes)
  if (marked) return { text: decode(bytes.subarray(marked.skip), marked.encoding), encoding: marked.encoding }
  if (bytes[0] === 0x3c && bytes[1] === 0) return { text: decode(bytes, 'utf-16le'), encoding: 'utf-16le' }
  if (bytes[0] === 0 && bytes[1] === 0x3c) return { text: decode(bytes, 'utf-16be'), encoding: 'utf-16be' }
  const declared =
    /^\s*<\?xml[^>]*encoding\s*=\s*["']([A-Za-z0-9._-]+)["']/
      .exec(bytes.subarray(0, 200).toString('latin1'))?.[1]
      ?.toLowerCase() ?? 'utf-8'
  return { text: decode(bytes, declared), encoding: declared }
}

/** Text of a delimited file: by byte order mark, else UTF-8 if it is valid, else Windows-1252. */
export function decodeDelimited(bytes: Buffer): { text: string; encoding: string } {
  const marked = byteOrderMark(bytes)
  if (marked) return { text: decode(bytes.subarray(marked.skip), marked.encoding), encoding: marked.encoding }
  try {
    return { text: decode(bytes, 'utf-8'), encoding: 'utf-8' }
  } catch {
    return { text: iconv.decode(bytes, 'windows-1252'), encoding: 'windows-1252' }
  }
}

function byteOrderMark(bytes: Buffer): { encoding: string; skip: number } | undefined {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return { encoding: 'utf-8', skip: 3 }
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return { encoding: 'utf-16le', skip: 2 }
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return { encoding: 'utf-16be', skip: 2 }
  return undefined
}

function decode(bytes: Buffer, encoding: string): string {
  try {
    if (encoding === 'utf-8' || encoding === 'utf8') return new TextDecoder('utf-8', { fatal: true }).decode(bytes)
    if (!iconv.encodingExists(encoding)) throw new Error(encoding)
    return iconv.decode(bytes, encoding)
  } catch {
    throw new RuleBroken(stop('xml.encoding', { encoding: encoding.slice(0, 30) }))
  }
}
