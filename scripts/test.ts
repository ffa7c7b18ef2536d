import { spawn } from 'node:child_process'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
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
  const { code, output } = await run(args)
  process.stdout.write(`\n${name}\n${output}${name}: ${code === 0 ? 'passed' : 'failed'}\n`)
  return code === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 }
}

/** Runs Mocha over some files and adds up what it says. A run that dies counts as a failure. */
async function mocha(name: string, args: readonly string[], environment: Environment = {}): Promise<Outcome> {
  const { code, output } = await run([tool('mocha/bin/mocha.js'), ...args], environment)
  process.stdout.write(`\n${name}\n${output}`)
  const count = (word: string): number => Number(new RegExp(`^\\s+(\\d+) ${word}`, 'm').exec(output)?.[1] ?? 0)
  const failed = count('failing')
  return { passed: count('passing'), failed: code !== 0 && failed === 0 ? 1 : failed }
}

type Environment = Readonly<Record<string, string>>

/** Runs something and keeps what it prints, so that what runs side by side is told one after the other. */
function run(args: readonly string[], environment: Environment = {}): Promise<{ code: number; output: string }> {
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
    child.once('close', code => resolve({ code: code ?? 1, output }))
  })
}

/** Tasks one after the other. */
async function inTurn(tasks: readonly (() => Promise<Outcome>)[]): Promise<Outcome[]> {
  const outcomes: Outcome[] = []
  for (const task of tasks) outcomes.push(await task())
  return outcomes
}

/** Two rows of tasks side by side, one for each core of a small machine. */
const sideBySide = async (...rows: readonly (readonly (() => Promise<Outcome>)[])[]): Promise<Outcome[]> =>
  (await Promise.all(rows.map(inTurn))).flat()

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

await command(async () => {
  const { values, positionals } = parseArgs({ options: { only: { type: 'string' } }, allowPositionals: true })
  const wanted = (part: string): boolean => values.only === undefined || values.only === part
  const grep = positionals[0] ? ['--grep', positionals[0]] : []
  const outcomes: Outcome[] = []
  if (wanted('unit') || wanted('browser')) ensurePostgres()
  if (
    wanted('browser') &&
    !['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].some(existsSync)
  )
    ensurePackages(['chromium'])
  const mochaOver =
    (name: string, files: readonly string[], shared: Environment = {}) =>
    (): Promise<Outcome> =>
      mocha(name, [...files, ...grep], shared)
  // the faults restart their database server, and the commands measure none: both keep one of their own
  outcomes.push(
    ...(await sideBySide(
      [...(wanted('lint') ? [lint, layout] : []), ...(wanted('types') ? [coreTypes] : [])],
      [
        ...(wanted('types') ? [types] : []),
        ...(wanted('unit')
          ? [
              mochaOver('Unit tests', ['{core,contract,web,stand-ins,server/formats}/**/*.test.ts']),
              mochaOver('Faults and commands', ['journeys/@(faults|commands|chaos).test.ts']),
            ]
          : []),
      ],
    )),
  )
  if (wanted('unit') || wanted('browser')) {
    const shared = { [SHARED_CLUSTER]: JSON.stringify(await sharedCluster()) }
    if (wanted('unit'))
      outcomes.push(
        ...(await sideBySide(
          [mochaOver('Stages', ['server/{source,request,decide,order}/**/*.test.ts'], shared)],
          [
            mochaOver('Mechanisms and offices', ['server/!(source|request|decide|order|formats)/**/*.test.ts'], shared),
            mochaOver('Journeys', ['journeys/!(faults|commands|chaos|*.browser).test.ts'], shared),
          ],
        )),
      )
    if (wanted('browser')) {
      buildWeb()
      outcomes.push(
        ...(await sideBySide(
          [mochaOver('Walks', ['journeys/@(walk|source).browser.test.ts'], shared)],
          [mochaOver('Requests in the browser', ['journeys/!(walk|source).browser.test.ts'], shared)],
        )),
      )
    }
    endCluster()
  }
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
