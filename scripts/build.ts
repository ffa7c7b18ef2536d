import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { Mendable, ROOT } from '#scripts/cluster.ts'

const STAMP = join(ROOT, 'dist/built-from')

/** Builds the interface unless what it is made of has not changed since. */
export function buildWeb(): void {
  const fingerprint = fingerprintOf(['web', 'contract', 'core', 'package-lock.json'])
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === fingerprint) return
  process.stdout.write('Building the interface …\n')
  const done = spawnSync(
    process.execPath,
    [join(ROOT, 'node_modules/vite/bin/vite.js'), 'build', '--config', 'web/vite.config.ts', '--logLevel', 'warn'],
    {
      cwd: ROOT,
      stdio: ['ignore', 'inherit', 'inherit'],
    },
  )
  if (done.status !== 0) throw new Mendable('The interface could not be built: see the words above.')
  mkdirSync(join(ROOT, 'dist'), { recursive: true })
  writeFileSync(STAMP, fingerprint)
}

function fingerprintOf(places: readonly string[]): string {
  const hash = createHash('sha256')
  const add = (path: string): void => {
    if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) add(join(path, name))
    else if (!path.endsWith('.test.ts')) hash.update(path.slice(ROOT.length)).update(readFileSync(path))
  }
  for (const place of places) add(join(ROOT, place))
  return hash.digest('hex')
}
