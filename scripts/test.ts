import { spawn } from 'node:child_process'
import { existsSync, readdirSync } from 'node:fs'
import { join, sep } from 'node:path'
import { parseArgs } from 'node:util'
import { buildWeb } from '#scripts/build.ts'
import { ensurePackages, ensurePostgres, ROOT } from '#scripts/cluster.ts'
import { command } from '#scripts/run.ts'
import { demoTemplate, endCluster, SHARED_CLUSTER, testCluster } from '#test-helpers/world.ts'

interface Outcome {
  readonly passed: number
  readonly failed: number
  /** What failed, as it is told once more at the end of the run. */
  readonly told: string
}

const tool = (name: string): string => join(ROOT, 'node_modules', name)

/** Runs one of our tools; it passes or fails as a whole. */
async function check(name: string, args: readonly string[]): Promise<Outcome> {
  const { code, output, seconds } = await run(args)
  process.stdout.write(`\n${name}\n${output}${name}: ${code === 0 ? 'passed' : 'failed'}, ${seconds} s\n`)
  return code === 0 ? { passed: 1, failed: 0, told: '' } : { passed: 0, failed: 1, told: `\n${name}\n${output}` }
}

/** Runs Mocha over some files and adds up what it says. A run that dies counts as a failure. */
async function mocha(name: string, args: readonly string[], environment: Environment = {}): Promise<Outcome> {
  const { code, output, seconds } = await run([tool('mocha/bin/mocha.js'), ...args], environment)
  process.stdout.write(`\n${name}, ${seconds} s\n${output}`)
  const count = (word: string): number => Number(new RegExp(`^\\s+(\\d+) ${word}`, 'm').exec(output)?.[1] ?? 0)
  const failed = code === 0 ? 0 : Math.max(count('failing'), 1)
  const faults = /^\s+\d+ failing[^]*/m.exec(output)?.[0] ?? output
  return { passed: count('passing'), failed, told: failed === 0 ? '' : `\n${name}\n${faults}` }
}

type Environment = Record<string, string>

/** Runs something and keeps what it prints, so that what runs side by side is told one after the other. */
function run(
  args: readonly string[],
  environment: Environment = {},
): Promise<{ code: number; output: string; seconds: number }> {
  const start = Date.now()
  return new Promise(resolve => {
    const child = spawn(process.execPath, [...args], {
      cwd: ROOT,
      env: { ...process.env, LOG_LEVEL: 'silent', FORCE_COLOR: '0', ...environment },
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    let output = ''
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (part: Buffer) => {
        output += part.toString()
      })
    child.once('close', code => resolve({ code: code ?? 1, output, seconds: Math.round((Date.now() - start) / 1000) }))
  })
}

type Task = () => Promise<Outcome>

/**
 * Tasks two at a time, one for each core of a small machine; whoever is done takes the next. The long ones come first. What needs no database
 * is done while one core makes it ready.
 */
async function sideBySide(ready: Promise<unknown>, early: readonly Task[], tasks: readonly Task[]): Promise<Outcome[]> {
  const waiting = [...tasks]
  const rest = (): Promise<Outcome[]> => ready.then(() => inTurn(waiting))
  const both = await Promise.all([inTurn([...early]).then(async done => [...done, ...(await rest())]), rest()])
  return both.flat()
}

/** Takes tasks from what waits until nothing does. */
async function inTurn(waiting: Task[]): Promise<Outcome[]> {
  const outcomes: Outcome[] = []
  for (let task = waiting.shift(); task; task = waiting.shift()) outcomes.push(await task())
  return outcomes
}

/** How many runs of Mocha take the server's folders; each reads the program once. */
const SERVER_RUNS = 4

/** The folders of the server that have tests, dealt out; but for those that need no database and run with the core's. */
const serverFolders = (): string[][] => {
  const tests = readdirSync(join(ROOT, 'server'), { recursive: true, encoding: 'utf8' }).filter(file =>
    file.endsWith('.test.ts'),
  )
  const folders = [...new Set(tests.map(file => file.split(sep)[0]!))].filter(folder => folder !== 'formats').sort()
  return Array.from({ length: SERVER_RUNS }, (_, run) =>
    folders.filter((_folder, index) => index % SERVER_RUNS === run),
  )
}

const lint = (): Promise<Outcome> => check('Lint', [tool('eslint/bin/eslint.js'), '.', '--max-warnings', '0'])
const layout = (): Promise<Outcome> =>
  check('Layout', [
    tool('prettier/bin/prettier.cjs'),
    '--check',
    '--log-level',
    'warn',
    '**/*.{ts,js,vue,css,scss,json,html}',
  ])
const types = (): Promise<Outcome> =>
  check('Types', [tool('vue-tsc/bin/vue-tsc.js'), '--noEmit', '-p', 'tsconfig.json'])
const coreTypes = (): Promise<Outcome> =>
  check('Types of the core', [tool('typescript/bin/tsc'), '--noEmit', '-p', 'core/tsconfig.json'])

const bench = (): Promise<Outcome> => check('Bench, a small run', ['--import', 'tsx', 'scripts/bench.ts', '--small'])

/** Walks that take more than a minute; the rest goes together. */
const LONG_WALKS = ['everyPage', 'source', 'walk', 'emptyHouse', 'lists', 'request']

await command(async () => {
  const { values, positionals } = parseArgs({ options: { only: { type: 'string' } }, allowPositionals: true })
  const wanted = (part: string): boolean => values.only === undefined || values.only === part
  const grep = positionals[0] ? ['--grep', positionals[0]] : []
  if (wanted('unit') || wanted('browser')) ensurePostgres()
  if (
    wanted('browser') &&
    !['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].some(existsSync)
  )
    ensurePackages(['chromium'])
  const mochaOver =
    (name: string, files: readonly string[], shared: Environment = {}): Task =>
    () =>
      mocha(name, [...files, ...grep], shared)
  const needsDatabase = wanted('unit') || wanted('browser')
  const shared: Environment = {}
  const ready = (async () => {
    if (needsDatabase) shared[SHARED_CLUSTER] = JSON.stringify(await sharedCluster())
    if (wanted('browser')) buildWeb()
  })()
  const walks = wanted('browser') ? LONG_WALKS : []
  // chaos and faults restart their database server, and the commands measure none: these keep one of their own
  const early = [...(wanted('types') ? [types, coreTypes] : []), ...(wanted('lint') ? [lint, layout] : [])]
  const outcomes = await sideBySide(ready, early, [
    ...(wanted('unit') ? [mochaOver('Chaos', ['journeys/chaos.test.ts'])] : []),
    // that it runs is what is asked here; its figures are judged where nothing else runs
    ...(values.only === undefined && grep.length === 0 ? [bench] : []),
    ...walks.map(name => mochaOver(`Walk: ${name}`, [`journeys/${name}.browser.test.ts`], shared)),
    ...(wanted('browser') ? [mochaOver('Walks', [`journeys/!(${LONG_WALKS.join('|')}).browser.test.ts`], shared)] : []),
    ...(wanted('unit')
      ? [
          mochaOver('Commands', ['journeys/commands.test.ts']),
          mochaOver('Faults', ['journeys/faults.test.ts']),
          mochaOver('Journeys', ['journeys/!(faults|commands|chaos|*.browser).test.ts'], shared),
          mochaOver('Unit tests', ['{core,contract,web,stand-ins,server/formats}/**/*.test.ts']),
          ...serverFolders().map(folders =>
            mochaOver(
              `Server: ${folders.join(', ')}`,
              folders.map(folder => `server/${folder}/**/*.test.ts`),
              shared,
            ),
          ),
        ]
      : []),
  ])
  if (needsDatabase) endCluster()
  const total = outcomes.reduce<Outcome>(
    (sum, one) => ({
      passed: sum.passed + one.passed,
      failed: sum.failed + one.failed,
      told: sum.told + one.told,
    }),
    { passed: 0, failed: 0, told: '' },
  )
  if (total.told !== '') process.stdout.write(`\nWhat failed, once more\n${total.told}`)
  process.stdout.write(`\n${total.passed} passed, ${total.failed} failed\n`)
  return total.failed === 0 ? 0 : 1
})

/** A database server with the demo loaded once, of which every test file that is given it makes copies. */
async function sharedCluster(): Promise<{ folder: string; port: number; url: string; adminUrl: string }> {
  const { folder, port, url, adminUrl } = await testCluster()
  await demoTemplate()
  return { folder, port, url: url('%'), adminUrl: adminUrl('%') }
}
process.exit()
