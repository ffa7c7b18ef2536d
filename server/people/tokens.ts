import { createHash, randomBytes } from 'node:crypto'

/** A secret that is sent or set once; what is kept of it is its hash. */
export const newToken = (bytes: number): string => randomBytes(bytes).toString('base64url')

export const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex')
