import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { awardFigure } from '#bench/award.ts'
import { buildCurve, recomputeBuild } from '#bench/build.ts'
import { fill, FULL, SMALL } from '#bench/data.ts'
import { approveTogether, myDecisions } from '#bench/decide.ts'
import { deskCounts, newsFanOut } from '#bench/desk.ts'
import { auctionBurst, compareMany } from '#bench/events.ts'
import { type Figure, listFirstPage, postTenLines, sheetOpen } from '#bench/figures.ts'
import { agreementContention, applyThousand, workbookTenThousand } from '#bench/order.ts'
import { checkRules, linkLines, readThousand } from '#bench/bill.ts'
import { lookUp, syncThousand } from '#bench/receive.ts'
import { budgetContention, quickLines, searchMillion, submitLines } from '#bench/request.ts'
import { pathPreview, rulesAgainstEngine } from '#bench/rules.ts'
import { eventLoop, serverLoad, serverRestart } from '#bench/server.ts'
import { importHundredThousand, matchQuality, shortlist } from '#bench/suppliers.ts'
import { filterList, firstRoute, openSheet, scrollList } from '#bench/web.ts'
import { buildWeb } from '#scripts/build.ts'
import { Mendable } from '#scripts/cluster.ts'
import { command } from '#scripts/run.ts'
import { endCluster, openWorld } from '#test-helpers/world.ts'
import type { World } from '#test-helpers/world.ts'

const FIGURES: Readonly<Record<string, (world: World, runs: number, small: boolean) => Promise<Figure> | Figure>> = {
  'list.first-page': listFirstPage,
  'sheet.open': sheetOpen,
  'desk.counts': deskCounts,
  'news.fan-out': newsFanOut,
  'thread.post-ten-lines': postTenLines,
  'web.first-route-kb': firstRoute,
  'web.open-sheet': openSheet,
  'web.filter-list': filterList,
  'web.scroll-200k': scrollList,
  'request.quick-lines-5k': quickLines,
  'request.submit-200-lines': submitLines,
  'request.budget-contention': budgetContention,
  'request.search-1m': searchMillion,
  'decide.rules-vs-engine': rulesAgainstEngine,
  'decide.path-preview': pathPreview,
  'decide.mine': myDecisions,
  'decide.approve-together': approveTogether,
  'source.compare-200x12': compareMany,
  'source.auction-burst': auctionBurst,
  'build.recompute-1000x50': recomputeBuild,
  'build.curve-2000': buildCurve,
  'order.workbook-10k': workbookTenThousand,
  'order.apply-1k': applyThousand,
  'order.agreement-contention': agreementContention,
  'receive.sync-1k': syncThousand,
  'receive.lookup': lookUp,
  'bill.check': checkRules,
  'bill.link-proposals': linkLines,
  'bill.read-1k': readThousand,
  'award.small': awardFigure('small'),
  'award.medium': awardFigure('medium'),
  'award.large': awardFigure('large'),
  'award.xlarge': awardFigure('xlarge'),
  'suppliers.match-quality': matchQuality,
  'suppliers.import-100k': importHundredThousand,
  'suppliers.shortlist-1m': shortlist,
  'server.event-loop': eventLoop,
  'server.load': serverLoad,
  'server.restart': serverRestart,
}

await command(async () => {
  const { values, positionals } = parseArgs({
    options: { json: { type: 'boolean' }, small: { type: 'boolean' } },
    allowPositionals: true,
  })
  const names = positionals.length > 0 ? positionals : Object.keys(FIGURES)
  const unknown = names.filter(name => !(name in FIGURES))
  if (unknown.length > 0)
    throw new Mendable(`There is no figure ${unknown.join(', ')}; there are ${Object.keys(FIGURES).join(', ')}.`)
  buildWeb()
  process.env.LOG_LEVEL = 'silent'
  const folder = mkdtempSync(join(tmpdir(), 'ivory-bench-'))
  const { world, close } = await openWorld(`bench_${process.pid}`, folder)
  try {
    await fill(world.db, values.small ? SMALL : FULL)
    const figures: Figure[] = []
    for (const name of names) {
      const one = await FIGURES[name]!(world, values.small ? 5 : 25, values.small ?? false)
      figures.push(one)
      const { unit, ...plain } = one
      process.stdout.write(
        values.json
          ? `${JSON.stringify(plain)}\n`
          : `${one.name.padEnd(24)} ours ${String(one.ours).padStart(9)} ${unit}   baseline ${String(one.baseline).padStart(9)} ${unit}   ratio ${String(one.ratio).padStart(6)}   limit ${one.limit}   ${one.ok ? 'ok' : 'NOT OK'}${one.note ? `   ${one.note}` : ''}\n`,
      )
    }
    return values.small || figures.every(one => one.ok) ? 0 : 1
  } finally {
    await close()
    endCluster()
    rmSync(folder, { recursive: true, force: true })
  }
})
process.exit()
