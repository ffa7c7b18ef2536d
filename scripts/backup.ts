import { existsSync, renameSync, rmSync, statSync } from 'node:fs'
import { resolve } from 'node:path'
import { parseArgs } from 'node:util'
import { Mendable, runTool } from '#scripts/cluster.ts'
import { endPrivateCluster, openDatabase, runningInstance } from '#scripts/instance.ts'
import { command } from '#scripts/run.ts'

/** Writes everything into one file, as it is at one moment, while work goes on: documents, ledgers, files, people (PostgreSQL custom format). */
await command(async () => {
  const { positionals } = parseArgs({ allowPositionals: true })
  const [path] = positionals
  if (path === undefined) throw new Mendable('Say where to: ./ivory backup FILE.')
  const file = resolve(path)
  if (existsSync(file)) throw new Mendable(`${path} is there already: name another file.`)
  const running = process.env.DATABASE_URL ? undefined : runningInstance()
  const { url, privateCluster } = running ? { url: running.databaseUrl, privateCluster: false } : await openDatabase()
  const partial = `${file}.partial`
  try {
    runTool('pg_dump', url, ['--format=custom', '--no-owner', '--no-privileges', `--file=${partial}`])
    renameSync(partial, file)
  } finally {
    rmSync(partial, { force: true })
    if (privateCluster) endPrivateCluster()
  }
  process.stdout.write(
    `${path}: ${Math.ceil(statSync(file).size / 1024)} kB. It holds personal data and bank accounts: keep it as safe as the house.\n`,
  )
  return 0
})
process.exit()
