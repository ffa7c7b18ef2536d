import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect } from 'chai'
import { ROOT } from '#scripts/cluster.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { reading } from '#server/call.ts'
import { audit } from '#server/insight/audit.ts'
import { useWorld } from '#test-helpers/world.ts'

/** Thrown at the end of a change so that it is taken back. */
class TakenBack extends Error {}

describe('the audit', () => {
  const world = useWorld()

  /** What the audit says of a database that somebody changed by hand; the change is taken back afterwards. */
  async function after(...changes: readonly string[]): Promise<{ checks: string[]; documents: string[] }> {
    let found: { check: string; document: string }[] = []
    const setting = await settingOf(world.jobs)
    await world.db
      .transaction(async trx => {
        for (const table of [
          'quantity_entries',
          'budget_entries',
          'agreement_entries',
          'stock_entries',
          'history',
          'event_log',
        ])
          await trx.raw(`alter table ${table} disable trigger user`)
        for (const change of changes) {
          const { command, rowCount } = await trx.raw<{ command: string; rowCount: number }>(change)
          expect(command === 'DROP' || rowCount > 0, `changes something: ${change}`).to.equal(true)
        }
        found = (await audit(reading(trx, setting))).differences
        throw new TakenBack()
      })
      .catch((error: unknown) => {
        if (!(error instanceof TakenBack)) throw error
      })
    return {
      checks: [...new Set(found.map(one => one.check))].sort(),
      documents: [...new Set(found.map(one => one.document))],
    }
  }

  const one = (table: string, where: string, order = 'id'): string =>
    `(select id from ${table} where ${where} order by ${order} limit 1)`
  const line = (where: string): string =>
    `(select l.id from order_lines l join orders o on o.id = l.order_id where ${where} order by l.id limit 1)`

  /** What is done by hand, and the laws that have to name it. */
  const CHANGES: readonly (readonly [string, readonly string[], readonly string[]])[] = [
    [
      'an entry of quantities that became more',
      [
        `update quantity_entries set quantity = quantity + 1 where id = ${one('quantity_entries', "kind = 'received'")}`,
      ],
      ['quantityBalances'],
    ],
    [
      'an entry of a budget that became more',
      [`update budget_entries set amount = amount + 1 where id = ${one('budget_entries', "kind = 'spent'")}`],
      ['budgetBalances'],
    ],
    [
      'a sum that is kept beside the entries',
      [`update budget_balances set amount = amount - 100 where kind = 'committed' and amount > 100`],
      ['budgetBalances'],
    ],
    [
      'more on a receipt than stands in the ledger',
      [`update receipt_lines set quantity = quantity + 1 where receipt_id = ${one('receipts', "state = 'posted'")}`],
      ['receivedQuantity'],
    ],
    [
      'more in a bin than moved there, worth more than it cost',
      [
        `insert into stock_lots (item_id, place_id, bin, batch, quantity) select i.id, a.id, 'Z', '', 3 from items i, addresses a order by i.id, a.id limit 1`,
        `insert into stock_holdings (item_id, place_id, quantity, value, changed_at) select i.id, a.id, 0, 300, now() from items i, addresses a order by i.id, a.id limit 1 on conflict (item_id, place_id) do update set quantity = 0, value = 300`,
      ],
      ['stockHoldings', 'stockLots', 'stockWithoutGoods'],
    ],
    [
      'what is set off of a credit note, and off an invoice, other than what was',
      [
        `update credit_notes set set_off = set_off - 1 where id = ${one('credit_notes', "state = 'posted'")}`,
        `update invoices set set_off = set_off - 1 where id = ${one('invoices', 'set_off > 0')}`,
      ],
      ['setOffOfCredits', 'setOffOfInvoices'],
    ],
    [
      'a credit note that takes pieces and posted none',
      [`update credit_lines set way = 'quantity' where credit_id = ${one('credit_notes', "state = 'posted'")}`],
      ['creditedByNote'],
    ],
    [
      'a credit note that gave back less',
      [`update credit_notes set base_net = base_net + 1 where id = ${one('credit_notes', "state = 'posted'")}`],
      ['givenBackByNote'],
    ],
    [
      'a credit note that takes more than its invoice billed',
      [`update credit_lines set net = net + 10000000 where credit_id = ${one('credit_notes', "state = 'posted'")}`],
      ['creditBeyondInvoice'],
    ],
    [
      'a credit note that is set off and not posted',
      [`update credit_notes set state = 'waiting' where id = ${one('credit_notes', "state = 'posted'")}`],
      ['desk', 'givenBackByNote', 'setOffBeyondCredit'],
    ],
    [
      'another quantity on an invoice that is posted',
      [
        `update invoice_lines set quantity = quantity + 1 where order_line_id is not null and invoice_id = ${one('invoices', "state = 'cleared'")}`,
      ],
      ['billedQuantity', 'billedByInvoice'],
    ],
    [
      'an invoice that is called paid and was not',
      [`update invoices set state = 'paid' where id = ${one('invoices', "state = 'cleared'")}`],
      ['paidQuantity', 'paymentsBooked'],
    ],
    [
      'a payment on its way for an invoice that knows of none',
      [`update invoices set state = 'cleared' where id = ${one('invoices', "state = 'scheduled'")}`],
      ['paymentsOnTheirWay'],
    ],
    [
      'a transfer that takes and does not give',
      [
        `insert into budget_entries (account_id, kind, amount, at, actor_id, document_kind, document_id) select account_id, 'transferred', 500, at, actor_id, document_kind, document_id from budget_entries limit 1`,
      ],
      ['transfersBalance', 'budgetBalances'],
    ],
    [
      'an order left with a record that is merged away',
      [
        `update suppliers set state = 'closed', merged_into = (select id from suppliers where id <> o.supplier_id limit 1) from (select supplier_id from orders where state = 'issued' limit 1) o where suppliers.id = o.supplier_id`,
      ],
      ['ordersOfMerged'],
    ],
    [
      'a request that forgot who pays for it',
      [
        `update requisitions set payers = '{}' where id = (select id from requisitions where payers <> '{}' order by id limit 1)`,
      ],
      ['payers'],
    ],
    [
      'two suppliers with one VAT number',
      [
        `drop index supplier_identifiers_strong`,
        `update supplier_identifiers i set value = other.value from (select value, supplier_id from supplier_identifiers where scheme = 'vat' order by value limit 1) other where i.scheme = 'vat' and i.id = (select id from supplier_identifiers where scheme = 'vat' and supplier_id <> other.supplier_id order by value limit 1)`,
      ],
      ['sharedNumbers'],
    ],
    [
      'a reversal that gives back another quantity',
      [
        `insert into quantity_entries (line_id, kind, quantity, at, actor_id, document_kind, document_id, reverses_id) select line_id, kind, -quantity - 1, at, actor_id, document_kind, document_id, id from quantity_entries where kind = 'received' order by id limit 1`,
      ],
      ['reversals', 'quantityBalances'],
    ],
    [
      'a line that has been ordered more than once and counts once',
      [
        `update order_lines set quantity = quantity + 1 where id = ${line("o.state = 'issued' and l.proof = 'count' and l.proven = 0")}`,
      ],
      ['orderedQuantity'],
    ],
    [
      'a price that was lowered past the ledger',
      [
        `update order_lines set price = price / 2, amount = amount / 2, base_amount = base_amount / 2 where id = ${line("o.state = 'issued' and l.amount > 100")}`,
      ],
      ['committedAmount'],
    ],
    [
      'less accrued than came in and is not billed',
      [
        `insert into budget_entries (account_id, kind, amount, line_id, at, actor_id, document_kind, document_id) select account_id, kind, -1, line_id, at, actor_id, document_kind, document_id from budget_entries e where kind = 'accrued' and (select sum(amount) from budget_entries s where s.kind = 'accrued' and s.line_id = e.line_id) > 1 limit 1`,
        `update budget_balances b set amount = amount - 1 where kind = 'accrued' and account_id = (select account_id from budget_entries order by id desc limit 1)`,
      ],
      ['accruedAmount'],
    ],
    [
      'a request of more than the ledger was told',
      [
        `update requisition_lines set quantity = quantity + 1 where requisition_id = ${one('requisitions', "state = 'waiting'")}`,
      ],
      ['requestedQuantity'],
    ],
    [
      'a request whose approval reserved less',
      [
        `update requisition_lines set base_amount = base_amount + 100 where requisition_id = ${one('requisitions', "state = 'waiting'")}`,
      ],
      ['reservedAmount'],
    ],
    [
      'an order that took more than was asked for',
      [
        `insert into quantity_entries (line_id, kind, quantity, at, actor_id, document_kind, document_id) select l.id, 'ordered', l.quantity * 3, e.at, e.actor_id, e.document_kind, e.document_id from requisition_lines l join quantity_entries e on e.line_id = l.id and e.kind = 'ordered' limit 1`,
        `update quantity_balances b set quantity = (select sum(quantity) from quantity_entries e where e.line_id = b.line_id and e.kind = b.kind) where b.kind = 'ordered' and b.line_id = (select line_id from quantity_entries order by id desc limit 1)`,
      ],
      ['orderedBeyondRequest'],
    ],
    [
      'a quantity that fell below nothing',
      [
        `insert into quantity_entries (line_id, kind, quantity, at, actor_id, document_kind, document_id) select line_id, 'returned', -5, at, actor_id, document_kind, document_id from quantity_entries e where e.kind = 'ordered' and exists (select from order_lines l where l.id = e.line_id) limit 1`,
        `insert into quantity_balances (line_id, kind, quantity) select line_id, kind, quantity from quantity_entries order by id desc limit 1`,
      ],
      ['quantityBelowNothing'],
    ],
    [
      'how far an order has come in',
      [
        `update orders set receive_extent = case receive_extent when 'all' then 'none' else 'all' end where id = ${one('orders', "state = 'issued'")}`,
      ],
      ['receiveExtent'],
    ],
    [
      'the day by which something of an order is still needed',
      [
        `update orders set need_by = coalesce(need_by, '2026-01-01') + 1 where id = ${one('orders', "state = 'issued'")}`,
      ],
      ['neededNext'],
    ],
    [
      'how far an order is billed',
      [
        `update orders set bill_extent = case bill_extent when 'all' then 'none' else 'all' end where id = ${one('orders', "state = 'issued'")}`,
      ],
      ['billExtent'],
    ],
    [
      'what is kept on a line for lists',
      [
        `update order_lines set proven = proven + 1, billed = billed + 1, settled = not settled where id = ${line("o.state = 'issued'")}`,
      ],
      ['provenQuantity', 'billedNet', 'settled'],
    ],
    ['a hold that was lost', [`delete from invoice_holds where ended_at is null`], ['missingHold']],
    [
      'a hold that has no reason any more',
      [
        `insert into invoice_holds select (jsonb_populate_record(h, jsonb_build_object('id', gen_random_uuid(), 'position', 99))).* from invoice_holds h where ended_at is null limit 1`,
      ],
      ['endedHold'],
    ],
    [
      'an invoice that was let through by hand',
      [`update invoices set state = 'matched' where id = ${one('invoices', "state = 'onHold'")}`],
      ['matchedState'],
    ],
    [
      'what a posted invoice spent',
      [
        `update budget_entries set amount = amount + 1 where kind = 'spent' and document_id = ${one('invoices', "state in ('cleared', 'paid', 'scheduled')")}`,
      ],
      ['spentByInvoice', 'budgetBalances'],
    ],
    ['what waits on somebody’s Desk', [`delete from desk_entries where document_kind = 'invoice'`], ['desk']],
    [
      'a reason in the history',
      [
        `update history set reason = 'Somebody else’s.' where (document_id, sequence) = (select document_id, sequence from history where reason is not null order by document_id, sequence limit 1)`,
      ],
      ['history'],
    ],
    [
      'a record that was taken out of the history',
      [
        `delete from history where (document_id, sequence) = (select document_id, min(sequence) from history group by document_id having count(*) > 2 order by document_id limit 1)`,
      ],
      ['history'],
    ],
    [
      'an entry of an event’s log',
      [`update event_log set at = at + interval '1 second' where sequence = 1`],
      ['eventLog'],
    ],
    [
      'the end of an auction that its lots do not have',
      [
        `update events set state = 'asking', ends_at = ends_at + interval '1 minute' where id in (select event_id from event_log where action = 'bid')`,
      ],
      ['auctionEnd'],
    ],
    [
      'what a kept award plan costs',
      [`update award_plan_runs set outcome = jsonb_set(outcome, '{rows,0,cost}', '"1.00"') where outcome is not null`],
      ['awardPlan'],
    ],
    [
      'more called off an agreement than its entries say',
      [`update agreement_balances set amount = amount + 100 where kind = 'used'`],
      ['agreementBalances'],
    ],
    ['what is kept as called off', [`update agreements set consumed = consumed + 1`], ['agreementConsumed']],
    [
      'an entry of what was called off that became less',
      [`update agreement_entries set amount = amount - 1 where id = ${one('agreement_entries', "kind = 'used'")}`],
      ['calledOff', 'agreementBalances'],
    ],
    ['what a build is said to cost', [`update build_costings set total = total + 1`], ['costing']],
  ]

  it('names every one of these changes', async function () {
    this.timeout(120_000)
    for (const [what, changes, laws] of CHANGES) {
      const { checks, documents } = await after(...changes)
      expect(checks, what).to.include.members([...laws])
      expect(documents, what).to.not.include('')
    }
  })

  it('has a change above for every law that there is', () => {
    const laws = [
      'ledger/law.ts',
      'order/laws.ts',
      'bill/laws.ts',
      'bill/creditLaws.ts',
      'pay/laws.ts',
      'request/laws.ts',
    ]
      .map(name => readFileSync(join(ROOT, 'core', name), 'utf8'))
      .flatMap(text => [...text.matchAll(/(?:breach|standsAs|differs)\(\s*'(\w+)'/g)].map(found => found[1]!))
    const own = [
      ...['audit.ts', 'auditAgreements.ts']
        .map(name => readFileSync(join(ROOT, 'server/insight', name), 'utf8'))
        .join('\n')
        .matchAll(/^ {2}(\w+): `select|check: '(\w+)'/gm),
    ].map(found => found[1] ?? found[2]!)
    expect(laws).to.have.length.above(15)
    expect([...new Set([...laws, ...own])].sort()).to.deep.equal(
      [...new Set(CHANGES.flatMap(([, , named]) => named))].sort(),
    )
  })

  it('counts what it has looked through, and finds nothing in the demo', async () => {
    const setting = await settingOf(world.jobs)
    const report = await world.db.transaction(trx => audit(reading(trx, setting)))
    expect(report.differences).to.deep.equal([])
    expect(report.quantityEntries).to.be.above(50)
    expect(report.budgetEntries).to.be.above(50)
    expect(report.historyRecords).to.be.above(100)
  })
})
