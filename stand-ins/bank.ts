import { createServer } from 'node:http'
import { mkdir, readdir, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { create } from 'xmlbuilder2'
import { listen, writeWhole } from '#stand-ins/mailServer.ts'

export interface BankFaults {
  /** Answer every request with 503. */
  down: boolean
  /** Keep the file but break the connection before answering. */
  forgetToAnswer: number
}

export interface Bank {
  readonly port: number
  readonly faults: BankFaults
  readonly stop: () => Promise<void>
}

/** Accounts whose last digits stand here are refused, with an ISO 20022 reason code; so that a demo has refusals. */
const REFUSED_ENDINGS: Readonly<Record<string, string>> = { '404': 'AC04', '101': 'AC01' }

/**
 * A small bank: takes ISO 20022 pain.001.001.09 by HTTP PUT (the same message twice is one), answers with pain.002.001.10 and
 * camt.053.001.08 files.
 */
export async function startBank(folder: string, port: number): Promise<Bank> {
  await mkdir(join(folder, 'answers'), { recursive: true })
  const faults: BankFaults = { down: false, forgetToAnswer: 0 }
  const server = createServer((request, response) => {
    if (faults.down) return void response.writeHead(503).end()
    const [, kind, name] = (request.url ?? '').split('/').map(decodeURIComponent)
    const parts: Buffer[] = []
    request.on('data', (part: Buffer) => parts.push(part))
    request.on('end', () => {
      if (request.method === 'PUT' && kind === 'payments' && name && /^[\w-]{1,40}$/.test(name)) {
        void take(folder, name, Buffer.concat(parts).toString('utf8')).then(
          () => {
            if (faults.forgetToAnswer > 0) {
              faults.forgetToAnswer--
              return void request.socket.destroy()
            }
            response.writeHead(202).end()
          },
          () => response.writeHead(400).end(),
        )
      } else if (kind === 'answers' && !name)
        void readdir(join(folder, 'answers')).then(files =>
          response.writeHead(200, { 'content-type': 'application/json' }).end(
            JSON.stringify({
              answers: files
                .filter(file => file.endsWith('.xml'))
                .map(file => file.replace(/\.xml$/, ''))
                .sort(),
            }),
          ),
        )
      else if (kind === 'answers' && name && /^[\w-]{1,60}$/.test(name))
        void readFile(join(folder, 'answers', `${name}.xml`)).then(
          bytes => response.writeHead(200, { 'content-type': 'application/xml' }).end(bytes),
          () => response.writeHead(404).end(),
        )
      else response.writeHead(404).end()
    })
  })
  return {
    port: await listen(server, port),
    faults,
    stop: async () => {
      server.closeAllConnections()
      await new Promise(resolve => server.close(resolve))
    },
  }
}

interface Transfer {
  endToEndId: string
  amount: string
  currency: string
  iban: string
  refusal: string | undefined
}

const inside = (text: string, tag: string): string => new RegExp(`<${tag}[^>]*>([^<]*)</${tag}>`).exec(text)?.[1] ?? ''

function readTransfers(text: string): Transfer[] {
  if (!text.includes('urn:iso:std:iso:20022:tech:xsd:pain.001.001.09')) throw new Error('not a pain.001.001.09')
  return [...text.matchAll(/<CdtTrfTxInf>([\s\S]*?)<\/CdtTrfTxInf>/g)].map(([, body = '']) => {
    const iban = inside(body.slice(body.indexOf('<CdtrAcct>')), 'IBAN')
    return {
      endToEndId: inside(body, 'EndToEndId'),
      amount: inside(body, 'InstdAmt'),
      currency: /InstdAmt Ccy="([A-Z]{3})"/.exec(body)?.[1] ?? '',
      iban,
      refusal: Object.entries(REFUSED_ENDINGS).find(([ending]) => iban.endsWith(ending))?.[1],
    }
  })
}

async function take(folder: string, name: string, text: string): Promise<void> {
  const transfers = readTransfers(text)
  const day = inside(text, 'CreDtTm').slice(0, 10)
  // whatever comes under a name that is known is the message that is known
  if ((await readdir(folder)).includes(`${name}.xml`)) return
  // the message itself comes last and every file whole: a bank that dies in between has not taken it, and takes it again as it was
  const paid = transfers.filter(transfer => !transfer.refusal)
  await writeWhole(join(folder, 'answers', `${name}-STATUS.xml`), statusReport(name, day, transfers))
  await writeWhole(join(folder, 'answers', `${name}-STATEMENT.xml`), statement(name, day, paid))
  await writeWhole(join(folder, `${name}.xml`), text)
}

function statusReport(name: string, day: string, transfers: readonly Transfer[]): string {
  return create(
    { version: '1.0', encoding: 'UTF-8' },
    {
      Document: {
        '@xmlns': 'urn:iso:std:iso:20022:tech:xsd:pain.002.001.10',
        CstmrPmtStsRpt: {
          GrpHdr: { MsgId: `${name}-STATUS`, CreDtTm: `${day}T18:00:00` },
          OrgnlGrpInfAndSts: {
            OrgnlMsgId: name,
            OrgnlMsgNmId: 'pain.001.001.09',
            GrpSts: transfers.some(one => one.refusal) ? 'PART' : 'ACCP',
          },
          OrgnlPmtInfAndSts: {
            OrgnlPmtInfId: name,
            TxInfAndSts: transfers.map(one => ({
              OrgnlEndToEndId: one.endToEndId,
              TxSts: one.refusal ? 'RJCT' : 'ACCP',
              ...(one.refusal ? { StsRsnInf: { Rsn: { Cd: one.refusal } } } : {}),
            })),
          },
        },
      },
    },
  ).end({ prettyPrint: true })
}

function statement(name: string, day: string, transfers: readonly Transfer[]): string {
  return create(
    { version: '1.0', encoding: 'UTF-8' },
    {
      Document: {
        '@xmlns': 'urn:iso:std:iso:20022:tech:xsd:camt.053.001.08',
        BkToCstmrStmt: {
          GrpHdr: { MsgId: `${name}-STATEMENT`, CreDtTm: `${day}T23:00:00` },
          Stmt: {
            Id: `${name}-STATEMENT`,
            Ntry: transfers.map(one => ({
              Amt: { '@Ccy': one.currency, '#': one.amount },
              CdtDbtInd: 'DBIT',
              Sts: { Cd: 'BOOK' },
              BookgDt: { Dt: day },
              NtryDtls: {
                TxDtls: { Refs: { EndToEndId: one.endToEndId }, Amt: { '@Ccy': one.currency, '#': one.amount } },
              },
            })),
          },
        },
      },
    },
  ).end({ prettyPrint: true })
}
