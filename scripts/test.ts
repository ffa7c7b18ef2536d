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
}

const tool = (name: string): string => join(ROOT, 'node_modules', name)

/** Runs one of our tools; it passes or fails as a whole. */
async function check(name: string, args: readonly string[]): Promise<Outcome> {
  const { code, output, seconds } = await run(args)
  process.stdout.write(`\n${name}\n${output}${name}: ${code === 0 ? 'passed' : 'failed'}, ${seconds} s\n`)
  return code === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 }
}

/** Runs Mocha over some files and adds up what it says. A run that dies counts as a failure. */
async function mocha(name: string, args: readonly string[], environment: Environment = {}): Promise<Outcome> {
  const { code, output, seconds } = await run([tool('mocha/bin/mocha.js'), ...args], environment)
  process.stdout.write(`\n${name}, ${seconds} s\n${output}`)
  const count = (word: string): number => Number(new RegExp(`^\\s+(\\d+) ${word}`, 'm').exec(output)?.[1] ?? 0)
  const failed = count('failing')
  return { passed: count('passing'), failed: code !== 0 && failed === 0 ? 1 : failed }
}

type Environment = Readonly<Record<string, string>>

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

/** Tasks two at a time, one for each core of a small machine; whoever is done takes the next. The long ones come first. */
async function sideBySide(...tasks: readonly Task[]): Promise<Outcome[]> {
  const outcomes: Outcome[] = []
  const waiting = [...tasks]
  const work = async (): Promise<void> => {
    for (let task = waiting.shift(); task; task = waiting.shift()) outcomes.push(await task())
  }
  await Promise.all([work(), work()])
  return outcomes
}

/** The folders of the server that have tests, but for those that need no database and run with the core's. */
const serverFolders = (): string[] => {
  const tests = readdirSync(join(ROOT, 'server'), { recursive: true, encoding: 'utf8' }).filter(file =>
    file.endsWith('.test.ts'),
  )
  return [...new Set(tests.map(file => file.split(sep)[0]!))].filter(folder => folder !== 'formats').sort()
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
  const shared: Environment = needsDatabase ? { [SHARED_CLUSTER]: JSON.stringify(await sharedCluster()) } : {}
  if (wanted('browser')) buildWeb()
  const walks = wanted('browser') ? LONG_WALKS : []
  // chaos and faults restart their database server, and the commands measure none: these keep one of their own
  const outcomes = await sideBySide(
    ...(wanted('unit') ? [mochaOver('Chaos', ['journeys/chaos.test.ts'])] : []),
    ...walks.map(name => mochaOver(`Walk: ${name}`, [`journeys/${name}.browser.test.ts`], shared)),
    ...(wanted('types') ? [types] : []),
    ...(wanted('lint') ? [lint] : []),
    ...(wanted('browser') ? [mochaOver('Walks', [`journeys/!(${LONG_WALKS.join('|')}).browser.test.ts`], shared)] : []),
    ...(wanted('unit')
      ? [
          mochaOver('Commands', ['journeys/commands.test.ts']),
          mochaOver('Faults', ['journeys/faults.test.ts']),
          mochaOver('Journeys', ['journeys/!(faults|commands|chaos|*.browser).test.ts'], shared),
          mochaOver('Unit tests', ['{core,contract,web,stand-ins,server/formats}/**/*.test.ts']),
          ...serverFolders().map(folder => mochaOver(`Server: ${folder}`, [`server/${folder}/**/*.test.ts`], shared)),
        ]
      : []),
    ...(wanted('lint') ? [layout] : []),
    ...(wanted('types') ? [coreTypes] : []),
  )
  if (needsDatabase) endCluster()
  if (values.only === undefined && grep.length === 0)
    outcomes.push(await check('Bench, a small run', ['--import', 'tsx', 'scripts/bench.ts', '--small']))
  const total = outcomes.reduce<Outcome>(
    (sum, one) => ({ passed: sum.passed + one.passed, failed: sum.failed + one.failed }),
    { passed: 0, failed: 0 },
  )
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
