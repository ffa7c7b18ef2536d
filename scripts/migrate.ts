import { bringUpToDate, endPrivateCluster, openDatabase, runningInstance } from '#scripts/instance.ts'
import { Mendable } from '#scripts/cluster.ts'
import { command } from '#scripts/run.ts'

/** Brings the database up to this version, for those who start the processes themselves. */
await command(async () => {
  if (runningInstance() && !process.env.DATABASE_URL)
    throw new Mendable('Ivory Order runs: ./ivory stop ends it, and its next start brings the database up to date.')
  const { url, privateCluster } = await openDatabase()
  await bringUpToDate(url)
  process.stdout.write('The database is up to date.\n')
  if (privateCluster) endPrivateCluster()
  return 0
})
process.exit()
