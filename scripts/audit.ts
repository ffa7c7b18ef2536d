import { endPrivateCluster, needUpToDate, openDatabase, runningInstance } from '#scripts/instance.ts'
import { command } from '#scripts/run.ts'
import { connect } from '#server/database/connect.ts'
import { auditDatabase } from '#server/insight/audit.ts'

await command(async () => {
  const running = runningInstance()
  const { url } = running && !process.env.DATABASE_URL ? { url: running.databaseUrl } : await openDatabase()
  await needUpToDate(url)
  const db = connect(url, 2)
  try {
    const report = await auditDatabase(db)
    for (const one of report.differences)
      process.stdout.write(`${one.check}: ${one.document}: expected ${one.expected}, found ${one.found}\n`)
    process.stdout.write(
      `${report.quantityEntries} quantity entries, ${report.budgetEntries} budget entries, ${report.historyRecords} history records: ${report.differences.length === 0 ? 'no differences' : `${report.differences.length} differences`}\n`,
    )
    return report.differences.length === 0 ? 0 : 1
  } finally {
    await db.destroy()
    if (!running && !process.env.DATABASE_URL) endPrivateCluster()
  }
})
