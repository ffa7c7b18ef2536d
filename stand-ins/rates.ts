import { createServer } from 'node:http'
import { create } from 'xmlbuilder2'
import { listen } from '#stand-ins/mailServer.ts'

export interface RateFaults {
  /** Answer every request with 503. */
  down: boolean
  /** Answer with something that holds no rates. */
  garbled: boolean
}
export interface RateService {
  readonly port: number
  readonly faults: RateFaults
  readonly stop: () => Promise<void>
}

/** About what one euro costs, in units of each currency; made up. */
const MIDDLES: Readonly<Record<string, number>> = {
  AUD: 1.66,
  CAD: 1.49,
  CHF: 0.94,
  CZK: 25.1,
  DKK: 7.46,
  GBP: 0.85,
  HUF: 398,
  ISK: 146,
  JPY: 162,
  KRW: 1460,
  NOK: 11.6,
  NZD: 1.81,
  PLN: 4.29,
  SEK: 11.4,
  SGD: 1.44,
  USD: 1.09,
}
const DAY = 86_400_000
const SATURDAY = 6

/** The last day on which rates were fixed: weekends have none. */
function lastFixing(now: Date): Date {
  const day = new Date(Date.UTC(now.getUTCFullYear(), now.getUTCMonth(), now.getUTCDate()))
  while (day.getUTCDay() === 0 || day.getUTCDay() === SATURDAY) day.setTime(day.getTime() - DAY)
  return day
}

/** A small service of euro reference rates: `/daily.xml` holds those of the last working day, written as the European Central Bank writes them; the same for the same day. */
export async function startRates(port: number): Promise<RateService> {
  const faults: RateFaults = { down: false, garbled: false }
  const server = createServer((request, response) => {
    if (faults.down) return void response.writeHead(503).end()
    if (request.url !== '/daily.xml') return void response.writeHead(404).end()
    response.writeHead(200, { 'content-type': 'application/xml' })
    response.end(faults.garbled ? '<html><p>Down for maintenance</p></html>' : dailyRates(lastFixing(new Date())))
  })
  const taken = await listen(server, port)
  return {
    port: taken,
    faults,
    stop: async () => {
      await new Promise(resolve => {
        server.closeAllConnections()
        server.close(resolve)
      })
    },
  }
}

function dailyRates(day: Date): string {
  const turn = day.getTime() / DAY
  return create(
    { version: '1.0', encoding: 'UTF-8' },
    {
      Envelope: {
        Cube: {
          Cube: {
            '@time': day.toISOString().slice(0, 10),
            Cube: Object.entries(MIDDLES).map(([currency, middle], index) => ({
              '@currency': currency,
              '@rate': (middle * (1 + 0.02 * Math.sin(turn / 9 + index))).toFixed(4),
            })),
          },
        },
      },
    },
  ).end()
}
