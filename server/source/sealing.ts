import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto'

/** What is kept of something sealed: nobody reads it without the key of its event. */
export interface Sealed {
  readonly sealed: string
}

export const newSeal = (): Buffer => randomBytes(32)

/** Seals a value with an event's key (AES-256 in GCM, NIST SP 800-38D; a fresh nonce of 96 bits each time). */
export function seal(key: Buffer, value: unknown): Sealed {
  const nonce = randomBytes(12)
  const cipher = createCipheriv('aes-256-gcm', key, nonce)
  const text = Buffer.concat([cipher.update(JSON.stringify(value), 'utf8'), cipher.final()])
  return { sealed: Buffer.concat([nonce, cipher.getAuthTag(), text]).toString('base64') }
}

/** @throws where the key is another one, or somebody changed what was sealed */
export function unseal<T>(key: Buffer, { sealed }: Sealed): T {
  const bytes = Buffer.from(sealed, 'base64')
  const decipher = createDecipheriv('aes-256-gcm', key, bytes.subarray(0, 12))
  decipher.setAuthTag(bytes.subarray(12, 28))
  return JSON.parse(Buffer.concat([decipher.update(bytes.subarray(28)), decipher.final()]).toString('utf8')) as T
}

export const isSealed = (value: unknown): value is Sealed =>
  typeof value === 'object' && value !== null && 'sealed' in value && typeof value.sealed === 'string'
