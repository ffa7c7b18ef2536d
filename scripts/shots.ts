import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Page } from 'puppeteer-core'
import { buildWeb } from '#scripts/build.ts'
import { ROOT } from '#scripts/cluster.ts'
import { command } from '#scripts/run.ts'
import { addDays } from '#core/calendar/days.ts'
import { vatOf } from '#demo/world.ts'
import { pdfmake } from '#server/formats/pdf.ts'
import { chooseFiles, comeInAs, fill, startBrowser } from '#test-helpers/browser.ts'
import { endCluster, openWorld, sendAll, type World } from '#test-helpers/world.ts'

interface Shot {
  readonly name: string
  readonly who: string
  readonly path: (world: World) => Promise<string>
  readonly width?: number
  readonly prepare?: (page: Page) => Promise<void>
}

const idOf = async (world: World, table: string, where: Record<string, unknown>): Promise<string> =>
  ((await world.db(table).where(where).orderBy('id').first('id')) as { id: string }).id
const at = (path: string) => () => Promise.resolve(path)
const sheet = (stage: string, table: string, where: Record<string, unknown>) => async (world: World) =>
  `/${stage}/${await idOf(world, table, where)}`

const SHOTS: readonly Shot[] = [
  { name: 'desk', who: 'Pilar', path: at('/desk') },
  { name: 'supplier', who: 'Adaeze', path: sheet('source', 'suppliers', { name: 'Ropeline Access Crew' }) },
  {
    name: 'paper',
    who: 'Leonie',
    path: at('/bill/enter'),
    prepare: async page => {
      await chooseFiles(page, '[data-test="paper-file"]', await samplePaper())
      await page.waitForSelector('[data-test="mark-vat"]')
      for (const mark of ['mark-vat', 'mark-invoiceNumber', 'mark-day']) await page.click(`[data-test="${mark}"]`)
      await new Promise(resolve => setTimeout(resolve, 1500))
    },
  },
  {
    name: 'journal',
    who: 'Adaeze',
    path: at('/bill/journal'),
    prepare: async page => {
      const last = addDays(`${new Date().toISOString().slice(0, 7)}-01`, -1).slice(0, 7)
      await page.click(`[data-test="month-${last}"]`)
      await page.waitForSelector('[data-test="taxes"]')
    },
  },
  {
    name: 'build-costing',
    who: 'Joren',
    path: sheet('source/builds', 'buildCostings', { title: 'Life-support skid, revision C' }),
    prepare: async page => void (await page.waitForSelector('[data-test="better-builds"]')),
  },
  {
    name: 'catalogue',
    who: 'Ines',
    path: async world => `/request/catalogue/${await idOf(world, 'items', { number: 'SW-1200' })}?q=salt`,
  },
  {
    name: 'request-draft',
    who: 'Joren',
    path: sheet('request', 'requisitions', { title: 'Kelp hall opening: what is still missing' }),
    prepare: async page => {
      await fill(page, 'quick-line', '12 x sea salt 25 kg to Fennick by 4 Dec on LS-210/6020')
      await page.click('[data-test="line-0"] .what')
      await new Promise(resolve => setTimeout(resolve, 1200))
    },
  },
  {
    name: 'decide',
    who: 'Marit',
    path: at('/decide'),
    prepare: async page => {
      await page.waitForSelector('[data-test="decision"]')
      await page.keyboard.press('j')
      await page.keyboard.press('l')
      await page.waitForSelector('[data-test="decision-line"]')
    },
  },
  {
    name: 'auction',
    who: 'Rasmus',
    path: async world => `/source/events/${await idOf(world, 'events', { title: 'Circulation pumps 12 m³/h' })}/day`,
  },
  {
    name: 'comparison',
    who: 'Rasmus',
    path: async world =>
      `/source/events/${await idOf(world, 'events', { title: 'Life-support skids three and four' })}/compare`,
  },
  {
    name: 'handheld',
    who: 'Yuki',
    path: at('/handheld/'),
    width: 390,
    prepare: async page => {
      await page.waitForSelector('.places button')
      await page.$$eval('.places button', all => all.find(one => one.textContent.includes('Quay gate'))?.click())
      await new Promise(resolve => setTimeout(resolve, 1500))
    },
  },
  {
    name: 'award-plan',
    who: 'Rasmus',
    path: async world =>
      `/source/events/${await idOf(world, 'events', { title: 'Life-support skids three and four' })}/plan`,
  },
  { name: 'order', who: 'Pilar', path: sheet('order', 'orders', { title: 'Circulation pumps for the kelp hall' }) },
  { name: 'receive', who: 'Yuki', path: sheet('receive', 'orders', { title: 'Regulators for the kelp hall divers' }) },
  { name: 'invoice', who: 'Pilar', path: sheet('bill', 'invoices', { supplierNumber: 'GS-2301' }) },
  { name: 'payment-run', who: 'Adaeze', path: sheet('pay', 'paymentRuns', { state: 'answered' }) },
  {
    name: 'budget',
    who: 'Marit',
    path: async world =>
      `/insight/${await idOf(world, 'budgetAccounts', { costCentre: 'LS-210', naturalAccount: '6210', fiscalYear: new Date().getFullYear() })}?view=mine`,
  },
  {
    name: 'rules',
    who: 'Wren',
    path: at('/setup/rules'),
    prepare: async page => {
      await page.click('[data-test="begin-rules"]')
      await page.waitForSelector('[data-test="new-rule"]')
      await page.click('[data-test="edit-Finance, from 10 000"]')
      await page.waitForSelector('[data-test="rule-sentence"]')
      await new Promise(resolve => setTimeout(resolve, 600))
    },
  },
  {
    name: 'dispute',
    who: 'at Salines du Grand Pré-Vert',
    path: async world => `/supplier/invoices/${(await world.db('invoiceDisputes').first('invoiceId'))!.invoiceId}`,
    prepare: async page => void (await page.waitForSelector('[data-test="dispute"]')),
  },
]

/** A paper as suppliers send it, without data in it. */
async function samplePaper(): Promise<string> {
  const path = join(mkdtempSync(join(tmpdir(), 'ivory-paper-')), 'paper.pdf')
  const lines = [
    ['Description', 'Bags', 'Price', 'Net'],
    ['Synthetic sea salt, bag of 25 kg', '12', '23,10', '277,20'],
  ]
  const content = [
    { text: 'Salines du Grand Pré-Vert', fontSize: 18 },
    'Route du Sel 4, 44350 Guérande, France',
    `\nFacture n° GS-2410`,
    'Date: 24 novembre 2026      Échéance: 24 décembre 2026\n\n',
    { table: { widths: ['*', 50, 60, 70], body: lines } },
    { text: '\nNet 277,20\nTVA 0,00\nTotal EUR 277,20', alignment: 'right' as const },
    `\nTVA intracommunautaire: ${vatOf('salines')}`,
  ]
  const document = pdfmake().createPdf({ defaultStyle: { font: 'Roboto' }, content })
  writeFileSync(path, await document.getBuffer())
  return path
}

await command(async () => {
  buildWeb()
  const folder = mkdtempSync(join(tmpdir(), 'ivory-shots-'))
  const target = join(ROOT, 'docs/screenshots')
  mkdirSync(target, { recursive: true })
  const { world, close } = await openWorld(`shots_${process.pid}`, folder)
  const browser = await startBrowser()
  const wanted = process.argv.slice(2)
  try {
    await world.db.raw(
      `update outbox set state = 'waiting' where id in (select id from outbox order by created_at desc limit 12)`,
    )
    await sendAll(world)
    for (const shot of SHOTS.filter(one => wanted.length === 0 || wanted.includes(one.name))) {
      const page = await browser.open(shot.width ?? 1280, 800)
      const company = shot.who.startsWith('at ')
      await comeInAs(page, world.address, shot.who.replace(/^at /, ''), company, await shot.path(world))
      await new Promise(resolve => setTimeout(resolve, 1600))
      await shot.prepare?.(page)
      await new Promise(resolve => setTimeout(resolve, 400))
      await page.screenshot({ path: join(target, `${shot.name}.png`) as `${string}.png` })
      await page.browserContext().close()
      process.stdout.write(`${shot.name}.png\n`)
    }
    return 0
  } finally {
    await browser.close()
    await close()
    endCluster()
    rmSync(folder, { recursive: true, force: true })
  }
})
process.exit()
