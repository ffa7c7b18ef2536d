import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, gzipSync } from 'node:zlib'
import { Mendable, ROOT } from '#scripts/cluster.ts'

const STAMP = join(ROOT, 'dist/built-from')

/** Builds the interface unless what it is made of has not changed since. */
export function buildWeb(): void {
  const fingerprint = fingerprintOf(['web', 'contract', 'core', 'package-lock.json'])
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === fingerprint) return
  process.stdout.write('Building the interface …\n')
  // the handheld is laid into what the first one makes
  for (const config of ['web/vite.config.ts', 'web/handheld/vite.config.ts']) vite(config)
  compressBeside(join(ROOT, 'dist/web'))
  mkdirSync(join(ROOT, 'dist'), { recursive: true })
  writeFileSync(STAMP, fingerprint)
}

function vite(config: string): void {
  const done = spawnSync(
    process.execPath,
    [join(ROOT, 'node_modules/vite/bin/vite.js'), 'build', '--config', config, '--logLevel', 'warn'],
    { cwd: ROOT, stdio: ['ignore', 'inherit', 'inherit'] },
  )
  if (done.status !== 0) throw new Mendable('The interface could not be built: see the words above.')
}

/** Files smaller than this are sent as they are. */
const WORTH_IT = 1024

/** Lays every built file that shrinks beside itself, as browsers take it: compressed once instead of with each answer. */
function compressBeside(folder: string): void {
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile() || !/\.(js|css|svg|html|json)$/.test(entry.name)) continue
    const path = join(entry.parentPath, entry.name)
    const content = readFileSync(path)
    if (content.length < WORTH_IT) continue
    writeFileSync(`${path}.br`, brotliCompressSync(content))
    writeFileSync(`${path}.gz`, gzipSync(content, { level: 9 }))
  }
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
