import { EventEmitter } from 'node:events'
import { expect } from 'chai'
import { type AccessLine, measure } from '#server/http/access.ts'

describe('an answered request', () => {
  it('is told of also when the reader went away and no connection is left to ask', () => {
    let gone = false
    const request = {
      method: 'POST',
      get ip(): string {
        if (gone) throw new TypeError('Cannot read properties of null')
        return '192.0.2.7'
      },
    }
    const response = Object.assign(new EventEmitter(), {
      locals: { act: 'order.issue', person: 'ada' },
      statusCode: 200,
      writableFinished: false,
    })
    const told: AccessLine[] = []
    measure(request as never, response as never, line => told.push(line))
    gone = true
    response.emit('close')
    response.emit('close')
    expect(told.map(({ milliseconds: _milliseconds, ...line }) => line)).to.deep.equal([
      { act: 'order.issue', method: 'POST', status: 200, person: 'ada', network: '192.0.2.7', broken: true },
    ])
  })
})
