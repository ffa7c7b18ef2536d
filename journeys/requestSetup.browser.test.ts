import { writeFileSync } from 'node:fs'
import { expect } from 'chai'
import { ReadRequisition } from '#contract/request/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { chooseFiles, fill, pick, press, says, useBrowser, WALK } from '#test-helpers/browser.ts'
import { account, approved, draft, figures, goodsLine, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('what stewards, finance and buyers do for requests, in the browser', function () {
  this.timeout(WALK)
  const world = useWorld()
  const { open, file } = useBrowser(() => world.address)

  it('a steward makes a form; a requester fills it and gets a draft with its answers', async () => {
    const wren = await open('Wren', '/setup/forms')
    await press(wren, 'new-form')
    await fill(wren, 'form-name', 'Cleaning of a tank')
    await press(wren, 'add-form-question')
    await fill(wren, 'form-question', 'Which tank is to be cleaned?')
    await press(wren, 'form-preview')
    await says(wren, 'Which tank is to be cleaned?')
    await press(wren, 'publish-form')
    await says(wren, 'Cleaning of a tank')
    const joren = await open('Joren', '/request/new')
    await press(joren, 'form-cleaningofatank')
    await press(joren, 'fill-form')
    await says(joren, 'Which tank is to be cleaned')
    await fill(joren, 'q-question1', 'The ray tank')
    await press(joren, 'fill-form')
    await says(joren, 'The ray tank')
    const id = await joren
      .waitForFunction(() => /\/request\/[0-9a-f-]{36}$/.exec(location.pathname)?.[0].slice(9))
      .then(handle => handle.jsonValue() as Promise<string>)
    const sheet = await (await world.as('Joren')).do(ReadRequisition, { params: { id } })
    expect([sheet.title, sheet.form!.said[0]!.answer]).to.deep.equal(['Cleaning of a tank', 'The ray tank'])
    await wren.browserContext().close()
    await joren.browserContext().close()
  })

  it('purchasing writes a notice; it stands in the catalogue until it is read', async () => {
    const pilar = await open('Pilar', '/request')
    await press(pilar, 'notices')
    await press(pilar, 'new-notice')
    await fill(pilar, 'notice-title', 'No deliveries on the 24th')
    await press(pilar, 'save-notice')
    await says(pilar, 'No deliveries on the 24th')
    const ines = await open('Ines', '/request/catalogue')
    await says(ines, 'No deliveries on the 24th')
    await ines.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('.notice')]
        .find(one => one.innerText.includes('24th'))!
        .querySelector<HTMLElement>('.done')!
        .click(),
    )
    await ines.waitForFunction(() => !document.body.innerText.includes('24th'))
    await ines.reload()
    await says(ines, 'Catalogue')
    await new Promise(resolve => setTimeout(resolve, 900))
    expect(await ines.evaluate(() => document.body.innerText.includes('24th'))).to.equal(false)
    for (const page of [pilar, ines]) await page.browserContext().close()
  })

  it('a budget holder asks for money to be moved; finance agrees, and the figures follow', async () => {
    const [from, to] = [await account(world, 'EX-310', '6310'), await account(world, 'EX-310', '6610')]
    const marit = await open('Marit', '/insight/transfers')
    await pick(marit, 'transfer-from', 'EX-310 / 6310')
    await pick(marit, 'transfer-to', 'EX-310 / 6610')
    await fill(marit, 'transfer-amount', '1500,25')
    await fill(marit, 'transfer-reason', 'More illustrations, fewer dives.')
    await press(marit, 'ask-transfer')
    await says(marit, 'More illustrations, fewer dives.')
    const adaeze = await open('Adaeze', '/desk')
    await says(adaeze, 'wants money moved')
    await adaeze.goto(`${world.address}/insight/transfers`)
    const number = ((await world.db('budgetTransfers').where({ toId: to }).first('number')) as { number: string })
      .number
    await (await adaeze.waitForSelector(`[data-test="transfer-${number}"] [data-test="approve-transfer"]`))!.click()
    await press(adaeze, 'confirm')
    await says(adaeze, 'Decided')
    const kind = async (accountId: string): Promise<bigint> =>
      (
        (await world.db('budgetBalances').where({ accountId, kind: 'transferred' }).first('amount')) as {
          amount: bigint
        }
      ).amount
    expect([await kind(from), await kind(to)]).to.deep.equal([-150_025n, 150_025n])
    await adaeze.goto(`${world.address}/insight/${to}`)
    await says(adaeze, number)
    await marit.browserContext().close()
    await adaeze.browserContext().close()
  })

  it('finance imports budgets and sees what a year’s change would move before it is done', async () => {
    const year = Number(today().slice(0, 4))
    const path = file('budgets.csv')
    writeFileSync(path, `cost_centre;account;year;amount\nED-410;6410;${year};21000\n`)
    const page = await open('Adaeze', '/insight')
    await press(page, 'import-budgets')
    await chooseFiles(page, '.el-dialog input[type="file"]', path)
    await says(page, '1 row')
    await page.keyboard.press('Escape')
    await page.goto(`${world.address}/insight/years`)
    await pick(page, 'year-from', `${year} to ${year + 1}`)
    await pick(page, 'year-centre', 'VS-510')
    await says(page, 'In all')
    const old = await account(world, 'VS-510', '6510')
    const before = await figures(world, old)
    await press(page, 'change-year')
    await fill(page, 'reason', 'The year ends.')
    await press(page, 'confirm')
    await page.waitForSelector('[data-test="year-done"]')
    expect((await figures(world, old)).committed).to.equal(0n)
    expect(before.committed > 0n).to.equal(true)
    await page.browserContext().close()
  })

  it('a buyer takes lines, puts them together and splits one over two suppliers', async () => {
    await approved(world, [await goodsLine(world, 'CP-1240', '4')], 'Pumps for the annex')
    const page = await open('Pilar', '/order/to-buy?q=24+m')
    await page.waitForSelector('.row .el-checkbox')
    await page.waitForFunction(() => document.querySelectorAll('[data-test^="row-R-"]').length === 1)
    const choose = async (): Promise<void> => (await page.$('.row .el-checkbox'))!.click()
    await choose()
    await press(page, 'pool-take')
    await says(page, 'Pilar Que')
    if (!(await page.$('[data-test="pool-split"]'))) await choose()
    await press(page, 'pool-split')
    await fill(page, 'split-quantity', '1')
    await pick(page, 'split-offer', 'Seefelder')
    await press(page, 'split-go')
    await page.waitForFunction(() => document.querySelectorAll('[data-test^="row-R-"]').length === 2)
    await says(page, 'Seefelder')
    await page.browserContext().close()
  })

  it('a draft that cannot be kept for a while is kept when the server answers again', async () => {
    const made = await draft(world, [await goodsLine(world, 'PS-1200', '1')], 'On the ferry')
    const page = await open('Joren', `/request/${made.id}`)
    await page.waitForSelector('[data-test="quantity-0"]')
    await page.setOfflineMode(true)
    await fill(page, 'quantity-0', '9')
    await says(page, 'not kept yet')
    await page.setOfflineMode(false)
    await page.waitForSelector('[data-test="kept"]', { timeout: 20_000 })
    const sheet = await (await world.as('Joren')).do(ReadRequisition, { params: { id: made.id } })
    expect(sheet.lines[0]!.quantity).to.equal('9')
    await page.browserContext().close()
  })

  it('a pasted block becomes lines, sixty at a time, and never more than a request holds', async () => {
    const page = await open('Joren', '/request/new')
    await page.waitForSelector('[data-test="quick-line"]')
    const block = Array.from(
      { length: 130 },
      (_, index) => `${index + 1} x PS-1200 to Ropeworks by ${addDays(today(), 30)} on LS-210/6210`,
    ).join('\n')
    await page.evaluate(text => {
      const field = document.querySelector<HTMLTextAreaElement>(
        'textarea[data-test="quick-line"], [data-test="quick-line"] textarea',
      )!
      field.value = text
      field.dispatchEvent(new Event('input', { bubbles: true }))
      field.focus()
    }, block)
    await page.waitForSelector('[data-test="quick-ready"]')
    await says(page, '70 more lines wait')
    await page.keyboard.press('Enter')
    await says(page, '10 more lines wait')
    await page.keyboard.press('Enter')
    await page.waitForFunction(() => document.querySelectorAll('.line-row').length === 120)
    await page.waitForFunction(() =>
      document.querySelector('[data-test="quick-ready"]')?.textContent?.includes('10 lines'),
    )
    await page.keyboard.press('Enter')
    await page.waitForSelector('[data-test="line-129"]')
    await page.browserContext().close()
  })
})
