import { readFileSync } from 'node:fs'
import { checkInvoice } from '#core/bill/en16931.ts'
import { readUblInvoice } from '#core/formats/ublInvoice.ts'
import { RuleBroken } from '#core/reasons.ts'
import { say } from '#contract/messages/say.ts'
import { FILE_LIMIT } from '#contract/files/endpoints.ts'
import { command } from '#scripts/run.ts'
import { Mendable } from '#scripts/cluster.ts'
import { decodeXml } from '#server/formats/text.ts'

await command(async () => {
  const path = process.argv[2]
  if (!path) throw new Mendable('Name the invoice: ./ivory check-invoice FILE.')
  const bytes = await readFile(path)
  try {
    const { text, encoding } = decodeXml(bytes)
    const invoice = readUblInvoice(text)
    const violations = checkInvoice(invoice, new Date().toISOString().slice(0, 10))
    process.stdout.write(`${JSON.stringify({ file: path, encoding, invoice, violations }, null, 2)}\n`)
    return violations.length === 0 ? 0 : 1
  } catch (error) {
    if (!(error instanceof RuleBroken)) throw error
    process.stdout.write(
      `${JSON.stringify({ file: path, invoice: null, violations: error.reasons.map(reason => ({ rule: reason.code, place: '', expected: '', found: say(reason.code, reason.details) })) }, null, 2)}\n`,
    )
    return 1
  }
})

async function readFile(path: string): Promise<Buffer> {
  try {
    const bytes = readFileSync(path)
    if (bytes.length > FILE_LIMIT)
      throw new Mendable(`${path} has more than ${FILE_LIMIT / 1024 / 1024} MB: an e-invoice is never that large.`)
    return bytes
  } catch (error) {
    if (error instanceof Mendable) throw error
    throw new Mendable(`${path} cannot be read: check the name and the rights.`, { cause: error })
  }
}
