import { expect } from 'chai'
import { placeText, sentTo, takesOrder } from '#core/order/supplierPlace.ts'

describe('the place of a supplier that an order goes to', () => {
  const place = (id: string, roles: string[] = []) => ({ id, name: `Works ${id}`, street: 'Kaistr. 4', postalCode: '20457', city: 'Hamburg', country: 'DE', roles }) // prettier-ignore
  const [one, two, three] = [place('one', ['invoices']), place('two', ['takesOrders']), place('three')]

  it('is the one that was chosen, else the first that takes orders, else the first', () => {
    const all = [one, two, three]
    expect([sentTo(all, 'three'), sentTo(all, null), sentTo(all, 'gone')]).to.deep.equal([three, two, two])
    expect([sentTo([one, three], null), sentTo([], null)]).to.deep.equal([one, undefined])
  })

  it('gives its conditions only where it was chosen or takes orders', () => {
    expect([takesOrder([one, three], null), takesOrder([one, three], 'three')]).to.deep.equal([undefined, three])
  })

  it('is said on one line as it is written in its country', () => {
    expect([placeText(one), placeText({ ...one, name: '' }), placeText(undefined)]).to.deep.equal(['Works one, Kaistr. 4, 20457 Hamburg, DE', 'Kaistr. 4, 20457 Hamburg, DE', '']) // prettier-ignore
    expect(placeText({ ...two, country: 'US' })).to.equal('Works two, Kaistr. 4, Hamburg 20457, US')
  })
})
