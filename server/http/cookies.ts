import type { Request } from 'express'

/** Hours for which a session holds. */
export const SESSION_HOURS = 12

export const sessionCookie = (token: string, secure: boolean): string =>
  `ivory_session=${token}; Path=/; HttpOnly; SameSite=Strict; Max-Age=${SESSION_HOURS * 3600}${secure ? '; Secure' : ''}`
export const clearedSessionCookie = (): string => 'ivory_session=; Path=/; HttpOnly; SameSite=Strict; Max-Age=0'

export const tokenOf = (request: Request): string | undefined =>
  /(?:^|;\s*)ivory_session=([A-Za-z0-9_-]{20,})/.exec(request.get('cookie') ?? '')?.[1]
