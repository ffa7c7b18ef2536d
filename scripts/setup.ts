import { readFileSync } from 'node:fs'
import { parseArgs } from 'node:util'
import { z } from 'zod'
import { NewHouse } from '#contract/setup/house.ts'
import { say } from '#contract/messages/say.ts'
import { RuleBroken } from '#core/reasons.ts'
import { Mendable } from '#scripts/cluster.ts'
import { bringUpToDate, endPrivateCluster, openDatabase, runningInstance } from '#scripts/instance.ts'
import { command } from '#scripts/run.ts'
import { wire } from '#server/app/wiring.ts'
import { writing } from '#server/call.ts'
import { connect } from '#server/database/connect.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { goOnWithout } from '#server/setup/powerActs.ts'
import { firstLink, isEmptyHouse, setUpHouse } from '#server/setup/houseActs.ts'

/** Sets an empty house up from a file, unattended; or shows the link of the page that does it; or lets go of those who could agree once. */
await command(async () => {
  const { values } = parseArgs({
    options: { file: { type: 'string' }, link: { type: 'boolean' }, 'go-on-without': { type: 'boolean' } },
  })
  if (values.file === undefined && !values.link && !values['go-on-without'])
    throw new Mendable(
      'Say how: ./ivory setup --file house.json, or --link for the page that asks; --go-on-without when nobody is left who could agree to power.',
    )
  const house = values.file === undefined ? undefined : readHouseFile(values.file)
  const running = process.env.DATABASE_URL ? undefined : runningInstance()
  const { url, privateCluster } = running ? { url: running.databaseUrl, privateCluster: false } : await openDatabase()
  if (!running) await bringUpToDate(url)
  const base = (running?.url ?? process.env.PUBLIC_URL ?? '').replace(/\/$/, '')
  const db = connect(url, 2)
  try {
    wire()
    const setting = await settingOf({ db, clock: () => new Date().toISOString() }, undefined, 'import')
    if (values['go-on-without']) {
      const names = await db.transaction(trx => goOnWithout(writing(trx, setting)))
      process.stdout.write(
        `${names.length === 0 ? 'Nobody was waited for.' : `Not waited for any more: ${names.join(', ')}.`}\n`,
      )
      return 0
    }
    if (!(await isEmptyHouse({ trx: db })))
      throw new Mendable('This house is set up already: sign in as a steward and change it in Setup.')
    const path = await db.transaction(async trx => {
      const call = writing(trx, setting)
      return house ? (await setUpHouse(call, house)).path : await firstLink(call)
    })
    process.stdout.write(
      house && path === '/'
        ? `${house.house.name} is set up. Sign in as ${house.administrator.email}.\n`
        : `${house ? `${house.house.name} is set up. ${house.administrator.name} chooses a password at` : 'Set the house up at'} ${base}${path}\n`,
    )
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

function readHouseFile(path: string): NewHouse {
  let text: unknown
  try {
    text = JSON.parse(readFileSync(path, 'utf8'))
  } catch (error) {
    throw new Mendable(`${path} is no JSON file that can be read: ${(error as Error).message}.`, { cause: error })
  }
  const read = NewHouse.safeParse(text)
  if (!read.success) throw new Mendable(`${path} does not fit:\n${z.prettifyError(read.error)}`)
  return read.data
}
