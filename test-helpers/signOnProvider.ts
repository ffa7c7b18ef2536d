import { createHash, randomUUID } from 'node:crypto'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { exportJWK, generateKeyPair, SignJWT } from 'jose'

/** Who comes back from the provider. */
export interface SignedOn {
  readonly sub: string
  readonly email?: string
  readonly email_verified?: boolean
}
export interface SignOnProvider {
  readonly issuer: string
  /** Who is signed in there now, and what of the answer is made wrong. */
  person: SignedOn
  wrong: '' | 'nonce' | 'audience'
  readonly stop: () => Promise<void>
}

const CLIENT = 'ivory'

/** A small provider of OpenID Connect that lets everybody through as whoever it is told, and checks PKCE. */
export async function startSignOnProvider(): Promise<SignOnProvider> {
  const { publicKey, privateKey } = await generateKeyPair('RS256')
  const jwk = { ...(await exportJWK(publicKey)), kid: 'one', alg: 'RS256', use: 'sig' }
  const codes = new Map<string, { challenge: string; nonce: string }>()
  const provider: { person: SignedOn; wrong: '' | 'nonce' | 'audience' } = { person: { sub: 'nobody' }, wrong: '' }
  let issuer = ''
  const tokenFor = (nonce: string): Promise<string> =>
    new SignJWT({ ...provider.person, nonce: provider.wrong === 'nonce' ? 'another' : nonce })
      .setProtectedHeader({ alg: 'RS256', kid: 'one' })
      .setIssuer(issuer)
      .setAudience(provider.wrong === 'audience' ? 'somebody-else' : CLIENT)
      .setSubject(provider.person.sub)
      .setIssuedAt()
      .setExpirationTime('5m')
      .sign(privateKey)
  const server: Server = createServer((request, response) => {
    const url = new URL(request.url ?? '/', issuer)
    const json = (body: unknown, status = 200): void =>
      void response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body))
    if (url.pathname === '/.well-known/openid-configuration')
      return json({
        issuer,
        authorization_endpoint: `${issuer}/authorize`,
        token_endpoint: `${issuer}/token`,
        jwks_uri: `${issuer}/keys`,
        response_types_supported: ['code'],
        subject_types_supported: ['public'],
        id_token_signing_alg_values_supported: ['RS256'],
        code_challenge_methods_supported: ['S256'],
      })
    if (url.pathname === '/keys') return json({ keys: [jwk] })
    if (url.pathname === '/authorize') {
      const code = randomUUID()
      codes.set(code, {
        challenge: url.searchParams.get('code_challenge') ?? '',
        nonce: url.searchParams.get('nonce') ?? '',
      })
      const back = new URL(url.searchParams.get('redirect_uri')!)
      back.searchParams.set('code', code)
      back.searchParams.set('state', url.searchParams.get('state') ?? '')
      return void response.writeHead(303, { location: back.href }).end()
    }
    let body = ''
    request.on('data', (part: Buffer) => (body += part.toString()))
    request.on('end', () => {
      const form = new URLSearchParams(body)
      const kept = codes.get(form.get('code') ?? '')
      const proof = createHash('sha256')
        .update(form.get('code_verifier') ?? '')
        .digest('base64url')
      if (!kept || kept.challenge !== proof) return json({ error: 'invalid_grant' }, 400)
      codes.delete(form.get('code')!)
      void tokenFor(kept.nonce).then(id => json({ access_token: 'a', token_type: 'bearer', id_token: id }))
    })
  })
  await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve))
  issuer = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  return Object.assign(provider, {
    issuer,
    stop: async () => {
      server.closeAllConnections()
      await new Promise(resolve => server.close(resolve))
    },
  })
}
