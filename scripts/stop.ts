import { dataFolder, stopCluster } from '#scripts/cluster.ts'
import { forgetInstance, runningInstance } from '#scripts/instance.ts'
import { command } from '#scripts/run.ts'

await command(async () => {
  const running = runningInstance()
  if (running) {
    process.kill(running.pid, 'SIGTERM')
    for (let waited = 0; waited < 150 && runningInstance(); waited++)
      await new Promise(resolve => setTimeout(resolve, 100))
  }
  if (!process.env.DATABASE_URL) stopCluster(dataFolder())
  forgetInstance()
  process.stdout.write(running ? 'Ended.\n' : 'Nothing was running.\n')
  return 0
})
