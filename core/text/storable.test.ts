import { expect } from 'chai'
import fc from 'fast-check'
import { hasOverlongWord, isStorable, normalInput, normalText } from '#core/text/storable.ts'

describe('text that is kept', () => {
  it('holds no NUL, no half of a pair and no non-character', () => {
    for (const bad of [
      '\u0000',
      'a\ud800',
      '\udc00b',
      '\ufffe',
      '\uffff',
      '\ufdd0',
      '\ufdef',
      '\u{1fffe}',
      '\u{10ffff}',
    ])
      expect(isStorable(`x${bad}y`), JSON.stringify(bad)).to.equal(false)
    for (const good of ['', 'Straße', '\u{1f600}', '\ud83d\ude00', '\ufffd', '\ufdcf', '\ufdf0', 'a\nb\t'])
      expect(isStorable(good), JSON.stringify(good)).to.equal(true)
  })

  it('comes back from UTF-8 as it was', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), text => {
        fc.pre(isStorable(text))
        expect(new TextDecoder().decode(new TextEncoder().encode(text))).to.equal(text.replace(/^\ufeff/, ''))
      }),
    )
  })

  it('has one spelling of the same letters', () => {
    expect(normalText('u\u0308ber')).to.equal('über')
    expect(normalInput({ name: 'u\u0308', lines: ['e\u0301'] }).value).to.deep.equal({ name: 'ü', lines: ['é'] })
  })

  it('names the place of what cannot be kept, however deep, also in a name', () => {
    const { faults } = normalInput({ reason: 'x\ud800', lines: [{ note: 'fine' }, { note: '\ufffe' }], ['\u0000']: 1 })
    expect(faults.map(one => one.place)).to.deep.equal(['reason', 'lines.1.note', '\u0000'])
    expect(normalInput('\u0000').faults).to.deep.equal([{ place: '', fault: 'unkeepable' }])
  })

  it('leaves numbers, nothing and truth alone, and does not go deeper than forty levels', () => {
    expect(normalInput({ a: 1, b: null, c: true, d: undefined }).value).to.deep.equal({
      a: 1,
      b: null,
      c: true,
      d: undefined,
    })
    const nested = (levels: number): unknown => (levels === 0 ? 'x' : [nested(levels - 1)])
    expect(normalInput(nested(40)).faults).to.have.length(0)
    expect(normalInput(nested(41)).faults.map(one => one.fault)).to.deep.equal(['tooDeep'])
  })

  it('takes whole numbers as the database keeps them, and no more', () => {
    const numbers = { a: 2147483647, b: -2147483647, c: 2147483648, d: -2147483648, e: 1e308, f: NaN, g: 0.5 }
    expect(normalInput(numbers).faults).to.deep.equal(
      ['c', 'd', 'e', 'f'].map(place => ({ place, fault: 'numberOutOfRange' })),
    )
  })

  it('takes words of five hundred letters, however long the text', () => {
    const word = 'ü'.repeat(500)
    expect(hasOverlongWord(`${word} ${word}-${word}`)).to.equal(false)
    expect(hasOverlongWord('1,'.repeat(50_000))).to.equal(false)
    expect(normalInput({ note: `a ${word}ü` }).faults).to.deep.equal([{ place: 'note', fault: 'overlongWord' }])
  })

  it('takes no field that would change what every object is', () => {
    const { faults } = normalInput(JSON.parse('{"a":{"__proto__":{"admin":true}},"constructor":1}'))
    expect(faults).to.deep.equal([{ place: 'a.__proto__', fault: 'fieldName' }])
  })
})
