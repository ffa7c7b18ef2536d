import { expect } from 'chai'
import fc from 'fast-check'
import {
  type AskedColumn,
  type Condition,
  daysAsked,
  MOST_CONDITIONS,
  MOST_ORDERS,
  MOST_VALUES,
  type Operator,
  OPERATORS,
  orderBy,
  readConditions,
  readOrders,
  whyNotAsk,
  writeConditions,
  writeOrders,
} from '#core/lists/conditions.ts'

const COLUMNS: AskedColumn[] = [
  { key: 'supplier', type: 'words' },
  { key: 'amount', type: 'figure' },
  { key: 'needBy', type: 'date' },
  { key: 'state', type: 'choice' },
  { key: 'buyer', type: 'person' },
]
const ask = (column: string, operator: Operator, ...values: string[]): Condition => ({ column, operator, values })

describe('conditions of a list', () => {
  it('stand in the address as and, or, and values of any text', () => {
    const read = readConditions('needBy.next:14;supplier.has:pump%2C%20big|supplier.is:Nordhavn,Tide;buyer.me', COLUMNS)
    expect(read).to.deep.equal({
      conditions: [
        [ask('needBy', 'next', '14')],
        [ask('supplier', 'has', 'pump, big'), ask('supplier', 'is', 'Nordhavn', 'Tide')],
        [ask('buyer', 'me')],
      ],
      lost: [],
      reasons: [],
    })
    expect(writeConditions(read.conditions)).to.equal(
      'needBy.next:14;supplier.has:pump%2C%20big|supplier.is:Nordhavn,Tide;buyer.me',
    )
    expect(readConditions('', COLUMNS).conditions).to.deep.equal([])
    expect(readConditions('state:draft', COLUMNS).conditions, 'as addresses were kept before').to.deep.equal([
      [ask('state', 'is', 'draft')],
    ])
    expect(writeConditions([[], [ask('buyer', 'me')]])).to.equal('buyer.me')
  })

  it('are read back as they were written, whatever stands in them', () => {
    const word = fc.string({ unit: 'grapheme', minLength: 1 })
    const one = fc.oneof(
      fc
        .tuple(fc.constantFrom('has', 'hasNot', 'is', 'isNot'), fc.array(word, { minLength: 1, maxLength: 4 }))
        .map(([operator, values]) => ask('supplier', operator as Operator, ...values)),
      fc.constantFrom(
        ask('buyer', 'me'),
        ask('needBy', 'thisMonth'),
        ask('amount', 'between', '1.50', ''),
        ask('amount', 'between', '', '9'),
      ),
    )
    fc.assert(
      fc.property(fc.array(fc.array(one, { minLength: 1, maxLength: 3 }), { maxLength: 6 }), conditions => {
        expect(readConditions(writeConditions(conditions), COLUMNS).conditions).to.deep.equal(conditions)
      }),
    )
  })

  it('that cannot be asked are left out and named: a column that is gone, an operator it does not have, a value that does not fit', () => {
    const read = readConditions(
      'gone.is:x;supplier.next:3|supplier.has:a;needBy.between:2026-02-30,;%;buyer.me:x',
      COLUMNS,
    )
    expect(read.conditions).to.deep.equal([[ask('supplier', 'has', 'a')]])
    expect(read.lost).to.deep.equal(['gone', 'supplier', 'needBy', '%', 'buyer'])
    expect(readConditions('supplier.has:%E0%A4%A', COLUMNS).lost, 'no text at all').to.have.length(1)
    expect(readConditions('__proto__.is:x;constructor.is:y', COLUMNS).conditions).to.deep.equal([])
  })

  it('are asked only as their column allows', () => {
    const codes = (condition: Condition, type: AskedColumn['type']): string[] =>
      whyNotAsk(condition, type).map(reason => reason.code)
    const samples: Readonly<Record<string, string[]>> = { last: ['7'], next: ['7'], between: ['1', '2'] }
    const none = ['empty', 'filled', 'thisMonth', 'me', 'myTeam']
    for (const type of Object.keys(OPERATORS) as AskedColumn['type'][])
      for (const operator of Object.values(OPERATORS).flat())
        expect(
          codes(
            ask(
              'x',
              operator,
              ...(none.includes(operator)
                ? []
                : type === 'date' && operator === 'between'
                  ? ['2026-01-01', '']
                  : (samples[operator] ?? ['a'])),
            ),
            type,
          ).length === 0,
          `${type} ${operator}`,
        ).to.equal((OPERATORS[type] as readonly string[]).includes(operator))
    expect(codes(ask('amount', 'between', '5', '4'), 'figure')).to.deep.equal(['list.condition'])
    expect(codes(ask('amount', 'between', '4', '4'), 'figure')).to.deep.equal([])
    expect(codes(ask('amount', 'between', '10', '9'), 'figure'), 'as figures, not as text').to.deep.equal([
      'list.condition',
    ])
    expect(codes(ask('amount', 'between', '', ''), 'figure')).to.deep.equal(['list.condition'])
    expect(codes(ask('amount', 'between', '1'), 'figure')).to.deep.equal(['list.condition'])
    expect(codes(ask('needBy', 'between', '2026-01-02', '2026-01-01'), 'date')).to.deep.equal(['list.condition'])
    expect(codes(ask('needBy', 'between', '2026-01-01', '2026-01-01'), 'date')).to.deep.equal([])
    expect(codes(ask('needBy', 'last', '-1'), 'date')).to.deep.equal(['list.condition'])
    expect(codes(ask('needBy', 'last', '3661'), 'date')).to.deep.equal(['list.condition'])
    expect(codes(ask('needBy', 'last', '3660'), 'date')).to.deep.equal([])
    expect(codes(ask('needBy', 'last', '1', '2'), 'date')).to.deep.equal(['list.condition'])
    expect(codes(ask('supplier', 'is'), 'words')).to.deep.equal(['list.condition'])
    expect(codes(ask('supplier', 'is', ''), 'words')).to.deep.equal(['list.condition'])
    const many = Array.from({ length: MOST_VALUES + 1 }, (_, index) => `v${index}`)
    expect(codes(ask('supplier', 'is', ...many), 'words')).to.deep.equal(['list.tooManyValues'])
    expect(codes(ask('supplier', 'is', ...many.slice(1)), 'words')).to.deep.equal([])
  })

  it('are no more than anybody reads', () => {
    const some = (count: number): string => Array.from({ length: count }, () => 'buyer.me').join(';')
    expect(readConditions(some(MOST_CONDITIONS), COLUMNS).conditions).to.have.length(MOST_CONDITIONS)
    const over = readConditions(some(MOST_CONDITIONS + 1), COLUMNS)
    expect([over.conditions, over.reasons.map(reason => reason.code)]).to.deep.equal([[], ['list.tooManyConditions']])
  })

  it('on dates look back and ahead from today, over months and years', () => {
    const today = '2026-12-15'
    expect(daysAsked({ operator: 'last', values: ['30'] }, today)).to.deep.equal(['2026-11-15', today])
    expect(daysAsked({ operator: 'next', values: ['20'] }, today)).to.deep.equal([today, '2027-01-04'])
    expect(daysAsked({ operator: 'thisMonth', values: [] }, today)).to.deep.equal(['2026-12-01', '2026-12-31'])
    expect(daysAsked({ operator: 'thisMonth', values: [] }, '2028-02-10')).to.deep.equal(['2028-02-01', '2028-02-29'])
    expect(daysAsked({ operator: 'between', values: ['2026-01-01', ''] }, today)).to.deep.equal(['2026-01-01', null])
    expect(daysAsked({ operator: 'between', values: ['', '2026-01-01'] }, today)).to.deep.equal([null, '2026-01-01'])
  })
})

describe('the order of a list', () => {
  const columns = new Set(['a', 'b', 'c', 'd', 'e'])
  it('is by several columns, each once, those that are there', () => {
    expect(readOrders('-a,b,-a,x', columns)).to.deep.equal([
      { column: 'a', descending: true },
      { column: 'b', descending: false },
    ])
    expect(readOrders('a,b,c,d,e', columns)).to.have.length(MOST_ORDERS)
    expect(readOrders('', columns)).to.deep.equal([])
    expect(writeOrders(readOrders('-a,b', columns))).to.equal('-a,b')
  })

  it('turns when its column is chosen again, and is let go of at the third time', () => {
    const by = (text: string, column: string, beside = false): string =>
      writeOrders(orderBy(readOrders(text, columns), column, beside))
    expect([by('', 'a'), by('a', 'a'), by('-a', 'a')]).to.deep.equal(['a', '-a', ''])
    expect([by('a,b', 'c'), by('a,b', 'a'), by('a,-b', 'b')]).to.deep.equal(['c', 'a', 'b'])
    expect([by('a', 'b', true), by('a,b', 'b', true), by('a,-b', 'b', true)]).to.deep.equal(['a,b', 'a,-b', 'a'])
    expect(by('a,b,c,d', 'e', true)).to.equal('b,c,d,e')
  })
})
