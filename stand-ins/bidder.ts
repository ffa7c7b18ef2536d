/** A supplier's sales person: opens the link of a mail and bids now and then, over plain HTTP as a browser does. */
export interface Bidder {
  readonly stop: () => void
  /** How many of its bids were taken. */
  readonly taken: () => number
}

interface Lot {
  readonly id: string
  readonly phase: string
  readonly place: number | null
  readonly lines: readonly { readonly id: string }[]
  readonly own: readonly { readonly out: boolean; readonly prices: Readonly<Record<string, string>> }[]
}

const LEAST_WAIT = 15_000
const MORE_WAIT = 30_000
/** What it offers first, and by how much less each time, in parts of a thousand. */
const FIRST = 980
const LOWER = 6

/** Bids for the address that gets mails at `to`, until it is stopped. It never goes below its own limit, and never while it leads. */
export function startBidder(options: {
  readonly mailbox: string
  readonly to: string
  readonly usual: number
  readonly wait?: () => number
}): Bidder {
  let over = false
  let taken = 0
  let timer: NodeJS.Timeout | undefined
  const sessions = new Map<string, { address: string; cookie: string; eventId: string }>()
  const wait = options.wait ?? ((): number => LEAST_WAIT + Math.random() * MORE_WAIT)
  const headers = (cookie: string) => ({ cookie, 'content-type': 'application/json', 'x-ivory-order': '1' })

  async function links(): Promise<string[]> {
    const answer = await fetch(`${options.mailbox}/?to=${encodeURIComponent(options.to)}`)
    const { mails } = (await answer.json()) as { mails: { text: string }[] }
    return mails.flatMap(mail => [...mail.text.matchAll(/https?:\/\/\S+\/asked\/[\w-]+/g)].map(([link]) => link))
  }
  async function comeIn(link: string): Promise<void> {
    if (sessions.has(link)) return
    const { origin, pathname } = new URL(link)
    const token = pathname.split('/').at(-1)!
    const answer = await fetch(`${origin}/api/asked/links/${token}`, {
      method: 'POST',
      headers: headers(''),
      body: '{}',
    })
    const cookie = answer.headers.getSetCookie()[0]?.split(';')[0]
    if (!answer.ok || !cookie) return
    const { eventId } = (await answer.json()) as { eventId: string }
    sessions.set(link, { address: `${origin}/api/asked/${eventId}`, cookie, eventId })
    const say = { method: 'POST', headers: headers(cookie), body: JSON.stringify({ say: 'accept', reason: '' }) }
    await fetch(`${origin}/api/asked/${eventId}/say`, say)
  }
  async function bidIn({ address, cookie }: { address: string; cookie: string }): Promise<void> {
    await fetch(`${address}/seen`, { method: 'POST', headers: headers(cookie), body: '{}' })
    const answer = await fetch(`${address}/day`, { headers: headers(cookie) })
    if (!answer.ok) return
    const { lots } = (await answer.json()) as { lots: Lot[] }
    for (const lot of lots) {
      if (lot.phase !== 'open' || lot.place === 1) continue
      const own = lot.own.filter(one => !one.out)
      const price = (options.usual * (FIRST - LOWER * own.length)) / 1000
      const prices = Object.fromEntries(lot.lines.map(line => [line.id, price.toFixed(2)]))
      const body = JSON.stringify({ bidId: crypto.randomUUID(), lotId: lot.id, prices })
      const bid = await fetch(`${address}/bids`, { method: 'POST', headers: headers(cookie), body })
      if (bid.ok) taken += 1
    }
  }
  async function turn(): Promise<void> {
    try {
      for (const link of await links()) await comeIn(link)
      for (const session of sessions.values()) await bidIn(session)
    } catch {
      // the line is down, or nobody is there yet: it looks again later
    }
    if (!over) timer = setTimeout(() => void turn(), wait())
  }
  void turn()
  return {
    stop: () => {
      over = true
      clearTimeout(timer)
    },
    taken: () => taken,
  }
}
