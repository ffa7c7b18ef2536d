import { writeFileSync } from 'node:fs'
import { parseArgs } from 'node:util'
import { say } from '#contract/messages/say.ts'
import { RuleBroken } from '#core/reasons.ts'
import { asksYes } from '#scripts/ask.ts'
import { Mendable } from '#scripts/cluster.ts'
import { endPrivateCluster, needUpToDate, openDatabase, runningInstance } from '#scripts/instance.ts'
import { command } from '#scripts/run.ts'
import { exportPerson, forgetPerson } from '#server/account/forget.ts'
import { writing } from '#server/call.ts'
import { connect } from '#server/database/connect.ts'
import { settingOf } from '#server/jobs/parts.ts'

/** Hands out what is kept about a person, or takes one who left out; the history stays whole under a pseudonym. */
await command(async () => {
  const { values, positionals } = parseArgs({
    options: { export: { type: 'string' }, reason: { type: 'string' }, yes: { type: 'boolean' } },
    allowPositionals: true,
  })
  const [email] = positionals
  if (email === undefined || (values.export === undefined && !values.reason))
    throw new Mendable('Say whom: ./ivory forget EMAIL --export FILE, or ./ivory forget EMAIL --reason WHY [--yes].')
  const running = process.env.DATABASE_URL ? undefined : runningInstance()
  const { url, privateCluster } = running ? { url: running.databaseUrl, privateCluster: false } : await openDatabase()
  await needUpToDate(url)
  const db = connect(url, 2)
  try {
    const person = await db('people').whereRaw('lower(email) = ?', [email.toLowerCase()]).first('id', 'name')
    if (!person) throw new Mendable(`Nobody has the address ${email}.`)
    const setting = await settingOf({ db, clock: () => new Date().toISOString() }, undefined, 'import')
    if (values.export !== undefined) {
      const kept = await db.transaction(trx => exportPerson(writing(trx, setting), person.id))
      writeFileSync(values.export, `${JSON.stringify(kept, null, 2)}\n`, { mode: 0o600, flag: 'wx' })
      process.stdout.write(`What is kept about ${person.name} is in ${values.export}.\n`)
      return 0
    }
    if (!values.yes && !(await asksYes(`Take out ${person.name} for good?`)))
      throw new Mendable('Nobody was taken out. Say --yes if it shall be.')
    const name = await db.transaction(trx => forgetPerson(writing(trx, setting), person.id, values.reason!))
    process.stdout.write(`${person.name} stands in the history as ${name} from now on.\n`)
    return 0
  } catch (error) {
    if (error instanceof RuleBroken)
      throw new Mendable(error.reasons.map(reason => say(reason.code, reason.details)).join('\n'), { cause: error })
    throw error
  } finally {
    await db.destroy()
    if (privateCluster) endPrivateCluster()
  }
})
process.exit()
