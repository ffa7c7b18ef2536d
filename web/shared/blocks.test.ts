import { execFile } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { expect } from 'chai'
import express from 'express'
import type { Page } from 'puppeteer-core'
import { chooseFiles, fill, type OurBrowser, press, says, startBrowser, textOf, WALK } from '#test-helpers/browser.ts'

describe('blocks', function () {
  this.timeout(WALK)
  let browser: OurBrowser
  let server: Server
  let page: Page
  let folder = ''
  before(async () => {
    folder = mkdtempSync(join(tmpdir(), 'ivory-blocks-'))
    const vite = ['node_modules/vite/bin/vite.js', 'build', '--config', 'test-helpers/blocks/vite.config.ts']
    await promisify(execFile)(process.execPath, [...vite, '--outDir', folder, '--logLevel', 'error'])
    server = createServer(express().use(express.static(folder))).listen(0, '127.0.0.1')
    browser = await startBrowser()
  })
  beforeEach(async () => {
    await page?.browserContext().close()
    page = await browser.open()
    await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`)
    await page.waitForSelector('[data-test="form"]')
  })
  after(async () => {
    await browser.close()
    server.close()
    rmSync(folder, { recursive: true, force: true })
  })
  const said = (): Promise<string> => textOf(page, 'said')
  const focused = (): Promise<string> =>
    page.evaluate(() => document.activeElement?.closest('[data-test]')?.getAttribute('data-test') ?? '')

  it('forms say a single fault beside its field alone, several also above, each leading to its field', async () => {
    expect(await textOf(page, 'form')).to.include('As it stands on the label.')
    await press(page, 'one-fault')
    await page.waitForSelector('[data-place="name"] .el-form-item__error')
    expect(await page.$('.reasons')).to.equal(null)
    expect(await textOf(page, 'form'), 'a fault stands in the place of the help').to.not.include('As it stands')
    await press(page, 'two-faults')
    await page.waitForSelector('.reasons li:nth-child(2)')
    await page.click('.reasons li:nth-child(2) button')
    expect(await focused()).to.equal('number')
    await press(page, 'other-fault')
    await says(page, 'Choose one of the categories')
    await page.waitForSelector('.el-form-item__error', { hidden: true })
  })

  it('forms are sent by Enter in a field and by Ctrl+Enter, once each', async () => {
    await page.focus('[data-test="name"]')
    await page.keyboard.press('Enter')
    expect(await said()).to.equal('submit')
    await page.keyboard.down('Control')
    await page.keyboard.press('Enter')
    await page.keyboard.up('Control')
    expect(await said()).to.equal('submit; submit')
  })

  it('labels belong to their fields', async () => {
    const names = await page.$$eval('.form-field', fields =>
      fields.map(field => field.querySelector('label')?.control?.getAttribute('data-test')),
    )
    expect(names).to.deep.equal(['name', 'number'])
  })

  it('figures are taken with comma or point, and never guessed', async () => {
    await fill(page, 'quantity', '2,5')
    expect(await textOf(page, 'quantity-is')).to.equal('2.5')
    await fill(page, 'quantity', '1,234')
    await says(page, 'Do you mean')
    expect(await textOf(page, 'quantity-is'), 'nothing is taken yet').to.not.equal('1234')
    await page.evaluate(() => document.querySelector<HTMLElement>('.readings button')!.click())
    expect(await textOf(page, 'quantity-is')).to.equal('1234')
    await fill(page, 'quantity', 'many')
    await says(page, 'No number')
    expect(await textOf(page, 'quantity-is')).to.equal('1234')
  })

  it('days can be emptied where none is allowed', async () => {
    expect(await textOf(page, 'day-is')).to.equal('2026-12-04')
    await page.hover('.el-date-editor')
    await page.click('.el-date-editor .clear-icon')
    await page.waitForFunction(() => document.querySelector('[data-test="day-is"]')?.textContent === '')
  })

  it('files are chosen, also the same ones again', async () => {
    const paths = ['one.txt', 'two.txt'].map(name => join(folder, name))
    for (const path of paths) writeFileSync(path, 'x')
    await chooseFiles(page, 'input[data-test="files"]', ...paths)
    await chooseFiles(page, 'input[data-test="files"]', paths[0]!)
    await chooseFiles(page, 'input[data-test="files"]', paths[0]!)
    expect(await said()).to.equal('files one.txt two.txt; files one.txt; files one.txt')
  })

  it('what is not taken back asks for a reason and the number, says what happens, and forgets both', async () => {
    const ready = (): Promise<boolean> =>
      page.$eval('[data-test="confirm"]', button => !(button as HTMLButtonElement).disabled)
    await press(page, 'act')
    await says(page, 'Nothing of it stays.')
    await fill(page, 'reason', 'It was ordered twice')
    expect(await ready()).to.equal(false)
    await fill(page, 'typed-number', 'o-4002')
    expect(await ready()).to.equal(false)
    await fill(page, 'typed-number', 'o-4001')
    expect(await ready()).to.equal(true)
    await page.keyboard.down('Control')
    await page.keyboard.press('Enter')
    await page.keyboard.up('Control')
    expect(await said()).to.equal('go It was ordered twice')
    await page.keyboard.press('Escape')
    await page.waitForSelector('[data-test="reason"]', { hidden: true })
    await press(page, 'act')
    expect(await page.$eval('[data-test="reason"]', field => (field as HTMLTextAreaElement).value)).to.equal('')
    expect(await ready()).to.equal(false)
  })

  it('what opens below a button is left by Escape, which gives the keyboard back', async () => {
    await press(page, 'menu')
    await page.waitForSelector('[data-test="in-menu"]', { visible: true })
    await page.focus('[data-test="in-menu"]')
    await page.keyboard.press('Escape')
    await page.waitForSelector('[data-test="in-menu"]', { hidden: true })
    expect(await focused()).to.equal('menu')
  })

  it('tables of lines have a heading for each column, figures at the right, sums below, and a stop of the keyboard only where they scroll', async () => {
    const heads = await page.$$eval('.line-table thead th', all => all.map(one => [one.textContent.trim(), one.scope]))
    expect(heads).to.deep.equal([
      ['Name', 'col'],
      ['Price, EUR', 'col'],
      ['By', 'col'],
    ])
    expect(await page.$eval('.line-table thead span', one => one.className)).to.equal('visually-hidden')
    const cells = await page.$$eval('[data-test="part-b"] > *', all => all.map(one => [(one as HTMLElement).innerText, getComputedStyle(one).textAlign])) // prettier-ignore
    expect(cells.map(cell => cell[0])).to.deep.equal(['Pump', '2 190.00', 'By Dan'])
    expect(await page.$$eval('.line-table tbody th', all => all.map(one => one.scope))).to.deep.equal(['row', 'row'])
    expect(cells[1]![1]).to.match(/right|end/)
    const sum = await page.$$eval('.line-table tfoot [data-test="sum"] td', all => all.map(one => one.textContent))
    expect(sum).to.deep.equal(['In all', '2 202.50', ''])
    const looks = await page.$$eval('.line-table tbody tr', all => all.map(one => one.className))
    expect(looks).to.deep.equal(['off', 'now'])
    expect(await page.$eval('.line-table', one => one.getAttribute('tabindex'))).to.equal(null)
    await press(page, 'narrow')
    await page.waitForSelector('.line-table[tabindex="0"][aria-label="Parts"]')
  })
})
