import { expect } from 'chai'
import { z } from 'zod'
import { ENDPOINTS } from '#contract/api/endpoints.ts'
import { AmountText, Currency, Day, DecimalText, GivenReason, Line, Text, Uuid, Version } from '#contract/fields.ts'
import { LARGEST_INTEGER } from '#core/text/storable.ts'

const takes = (field: z.ZodType, values: readonly unknown[]): boolean[] =>
  values.map(value => field.safeParse(value).success)

describe('fields at the border', () => {
  it('take days of the calendar only', () => {
    expect(takes(Day, ['2026-11-23', '2028-02-29'])).to.deep.equal([true, true])
    expect(
      takes(Day, ['2026-02-29', '2026-13-01', '23.11.2026', '2026-11-23T00:00:00Z', '', null, 20261123]),
    ).to.not.include(true)
  })

  it('take exact decimals with at most six digits after the point, never numbers', () => {
    expect(takes(DecimalText, ['0', '12.5', '-3', '0.000001'])).to.not.include(false)
    expect(takes(DecimalText, ['1e5', '0.0000001', '1,5', ' 1', '', '.5', 'NaN', 'Infinity', 12.5])).to.not.include(
      true,
    )
  })

  it('take amounts with at most three digits after the point', () => {
    expect(takes(AmountText, ['0.00', '-5280.00', '612000', '1.005'])).to.not.include(false)
    expect(takes(AmountText, ['1.0005', '1 000', '+5', '0x10', '1234567890123456', 5])).to.not.include(true)
  })

  it('take currencies in use by their codes', () => {
    expect(takes(Currency, ['EUR', 'JPY'])).to.deep.equal([true, true])
    expect(takes(Currency, ['eur', 'XXX', '', 'constructor', '__proto__'])).to.not.include(true)
  })

  it('take one line of text without control characters', () => {
    expect(takes(Line, ['Plain', 'Ångström 12 m³/h', '海', ''])).to.not.include(false)
    expect(takes(Line, ['two\nlines', 'tab\there', 'nul\u0000', 'x'.repeat(301)])).to.not.include(true)
  })

  it('take longer text with its line breaks, but no control characters', () => {
    expect(takes(Text, ['two\nlines', 'tab\there', 'x'.repeat(4000)])).to.not.include(false)
    expect(takes(Text, ['bell\u0007', 'nul\u0000', 'x'.repeat(4001)])).to.not.include(true)
  })

  it('take a reason that says something', () => {
    expect(takes(GivenReason, ['Too dear.', 'yes'])).to.not.include(false)
    expect(takes(GivenReason, ['', 'ok', '   a  ', '\n\n\n'])).to.not.include(true)
  })

  it('take ids and versions as they are given out', () => {
    expect(takes(Uuid, ['c65ae50a-5fc1-4dfb-8b1d-4268cc4fa9e4'])).to.deep.equal([true])
    expect(takes(Uuid, ['c65ae50a', '', 'null', "' or 1=1"])).to.not.include(true)
    expect(takes(Version, [1, 7])).to.deep.equal([true, true])
    expect(takes(Version, [0, -1, 1.5, '1', null])).to.not.include(true)
  })

  it('keep quantities and prices below what the database holds', () => {
    expect(takes(DecimalText, ['999999999999.999999', '-999999999999'])).to.not.include(false)
    expect(takes(DecimalText, ['1000000000000', '-1000000000000.5'])).to.not.include(true)
  })

  it('have a bound on every whole number in a path or a query', () => {
    const unbounded = ENDPOINTS.flatMap(endpoint =>
      [endpoint.params, endpoint.query].flatMap(part => {
        const { properties } = z.toJSONSchema(part, { unrepresentable: 'any', io: 'output' }) as Shape
        return Object.entries(properties ?? {})
          .filter(([, one]) => one.type === 'integer' && !((one.maximum ?? Infinity) <= LARGEST_INTEGER))
          .map(([name]) => `${endpoint.name} ${name}`)
      }),
    )
    expect(unbounded).to.deep.equal([])
  })
})

interface Shape {
  readonly properties?: Readonly<Record<string, { type?: string; maximum?: number }>>
}
