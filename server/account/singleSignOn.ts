import type { Express, Request, Response } from 'express'
import type { Knex } from 'knex'
import * as oidc from 'openid-client'
import { RuleBroken, stop } from '#core/reasons.ts'
import { enter } from '#server/account/enter.ts'
import { dayOf, writing } from '#server/call.ts'
import type { Settings } from '#server/configuration.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { readHouse } from '#server/house/house.ts'
import { type Log, sendError } from '#server/http/answers.ts'
import type { Told } from '#server/http/route.ts'
import { getActor } from '#server/people/sessions.ts'

/** The house's single sign-on: OpenID Connect Core 1.0 with the code flow, PKCE (RFC 7636), state and nonce. */
export type SingleSignOn = NonNullable<Settings['singleSignOn']>

const COOKIE = 'ivory_sign_on'
const BACK = '/api/sign-in/single/back'
/** Seconds in which somebody has to come back from the provider. */
const PATIENCE = 600

interface Journey {
  readonly verifier: string
  readonly state: string
  readonly nonce: string
}

let known: { issuer: string; configuration: Promise<oidc.Configuration> } | undefined
/** What the provider says of itself, asked once; a provider that is away is asked again the next time. */
function configurationOf({ issuer, clientId, clientSecret }: SingleSignOn): Promise<oidc.Configuration> {
  if (known?.issuer !== issuer) {
    const plain = new URL(issuer).protocol === 'http:'
    const configuration = oidc.discovery(
      new URL(issuer),
      clientId,
      clientSecret,
      undefined,
      plain ? { execute: [oidc.allowInsecureRequests] } : {},
    )
    known = { issuer, configuration }
    configuration.catch(() => (known = undefined))
  }
  return known!.configuration
}

/** Sends people to the provider, and takes them in when they come back as somebody who has an account. */
export function addSingleSignOn(
  app: Express,
  db: Knex,
  setting: SingleSignOn,
  publicUrl: string,
  told: (request: Request, response: Response) => Told,
  log: Log,
): void {
  const secure = publicUrl.startsWith('https:') ? '; Secure' : ''
  // the way back begins at the provider, so that a strict cookie would stay behind
  const cookie = (value: string, age: number): string =>
    `${COOKIE}=${value}; Path=/api/sign-in; HttpOnly; SameSite=Lax; Max-Age=${age}${secure}`
  app.get('/api/sign-in/single', async (_request, response) => {
    try {
      const configuration = await configurationOf(setting)
      const journey: Journey = {
        verifier: oidc.randomPKCECodeVerifier(),
        state: oidc.randomState(),
        nonce: oidc.randomNonce(),
      }
      const address = oidc.buildAuthorizationUrl(configuration, {
        redirect_uri: `${publicUrl}${BACK}`,
        scope: 'openid email profile',
        code_challenge: await oidc.calculatePKCECodeChallenge(journey.verifier),
        code_challenge_method: 'S256',
        state: journey.state,
        nonce: journey.nonce,
      })
      response.append('set-cookie', cookie(Buffer.from(JSON.stringify(journey)).toString('base64url'), PATIENCE))
      response.redirect(303, address.href)
    } catch (error) {
      log('the single sign-on cannot be reached', error)
      sendError(response, new RuleBroken(stop('session.singleAway')), log)
    }
  })
  app.get(BACK, async (request, response) => {
    response.append('set-cookie', cookie('', 0))
    try {
      const claims = await claimsOf(setting, publicUrl, request)
      await comeIn(db, setting, claims, told(request, response))
      response.redirect(303, '/')
    } catch (error) {
      log('somebody came back from the single sign-on and was not let in', error)
      response.redirect(303, `/sign-in?single=${error instanceof RuleBroken ? 'unknown' : 'failed'}`)
    }
  })
}

interface Claims {
  readonly subject: string
  readonly email: string | undefined
}

async function claimsOf(setting: SingleSignOn, publicUrl: string, request: Request): Promise<Claims> {
  const kept = new RegExp(`(?:^|;\\s*)${COOKIE}=([A-Za-z0-9_-]+)`).exec(request.get('cookie') ?? '')?.[1]
  if (!kept) throw new Error('There is no journey to come back from.')
  const { verifier, state, nonce } = JSON.parse(Buffer.from(kept, 'base64url').toString('utf8')) as Journey
  const tokens = await oidc.authorizationCodeGrant(
    await configurationOf(setting),
    new URL(request.originalUrl, publicUrl),
    { pkceCodeVerifier: verifier, expectedState: state, expectedNonce: nonce, idTokenExpected: true },
  )
  const claims = tokens.claims()!
  const verified = claims.email_verified === true && typeof claims.email === 'string' ? claims.email : undefined
  return { subject: `${claims.iss} ${claims.sub}`, email: verified }
}

/**
 * Whoever the provider names comes in as the account that is bound to them, or as the open account of the team that has their verified address and
 * is bound to nobody yet. No account is made.
 *
 * @throws RuleBroken session.singleUnknown
 */
async function comeIn(db: Knex, setting: SingleSignOn, { subject, email }: Claims, told: Told): Promise<void> {
  const now = new Date().toISOString()
  const personId = await db.transaction(async trx => {
    const bound = await trx('people').where({ subject, active: true }).first('id')
    if (bound) return bound.id
    const own = email
      ? await trx('people')
          .whereRaw('lower(email) = ?', [email.toLowerCase()])
          .where({ active: true, realm: 'team', subject: null })
          .first('id')
      : undefined
    if (!own) throw new RuleBroken(stop('session.singleUnknown', { name: setting.name }))
    const call = await asPerson(trx, own.id, now)
    await hold(call, 'person', own.id)
    await trx('people').where({ id: own.id }).update({ subject })
    await record(call, { kind: 'person', id: own.id, action: 'signOnBound' })
    return own.id
  })
  await enter(await asPerson(db, personId, now), personId, told, {
    secondFactor: null,
    action: 'signedIn',
    trusted: true,
  })
}

async function asPerson(db: Knex, personId: string, now: string) {
  const house = await readHouse(db)
  const actor = await getActor(db, personId, now)
  return writing(db, { actor, house, now, today: dayOf(now, house.zone), channel: 'web', base: house.base })
}
