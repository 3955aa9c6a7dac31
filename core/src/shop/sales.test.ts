import fc from 'fast-check'
import * as v from 'valibot'
import { expect, it } from 'vitest'
import { hearSale, isGiven, isSale, NO_SALE, SaleEvent } from './sales.ts'

const at = fc
  .date({ min: new Date('2026-01-01'), max: new Date('2026-01-03'), noInvalidDate: true })
  .map((day) => day.toISOString())
const paid = fc.record({
  type: fc.constant('purchase.paid' as const),
  timestamp: at,
  data: fc.record({
    order: fc.constant('o1'),
    product: fc.constantFrom('shore', 'marsh'),
    buyer: fc.record({ name: fc.constantFrom('Ida', 'Bo'), email: fc.constantFrom('ida@class.example', 'nonsense') }),
  }),
})
const refunded = fc.record({
  type: fc.constant('purchase.refunded' as const),
  timestamp: at,
  data: fc.constant({ order: 'o1' }),
})
const all = (events: readonly SaleEvent[]) => events.reduce(hearSale, NO_SALE)

it('events of an order come to the same in any order, however often each comes', () => {
  fc.assert(
    fc.property(
      fc
        .array(fc.oneof(paid, refunded), { maxLength: 6 })
        .chain((events) =>
          fc.tuple(
            fc.constant(events),
            fc.shuffledSubarray([...events, ...events], { minLength: 2 * events.length, maxLength: 2 * events.length }),
          ),
        ),
      ([events, mixed]) => {
        const sale = all(mixed)
        expect(sale).toEqual(all(events))
        // what went back stays so, also where the purchase is heard of later
        const wasPaid = events.some(({ type }) => type === 'purchase.paid')
        const wentBack = events.some(({ type }) => type === 'purchase.refunded')
        expect(isGiven(sale)).toBe(wasPaid && !wentBack)
      },
    ),
  )
})

it('of two that say otherwise the later counts, whatever zone it names', () => {
  const event = (timestamp: string, email: string): SaleEvent => ({
    type: 'purchase.paid',
    timestamp,
    data: { order: 'o1', product: 'shore', buyer: { name: ' Ida\nFarrow ', email } },
  })
  const [first, second] = [
    event('2026-03-01T10:00:00+02:00', 'a@class.example'),
    event('2026-03-01T09:00:00Z', 'b@class.example'),
  ]
  for (const events of [
    [first, second],
    [second, first],
  ])
    expect(all(events).paid).toEqual({
      at: '2026-03-01T09:00:00.000Z',
      product: 'shore',
      name: 'Ida Farrow',
      email: 'b@class.example',
    })
  // an address that is none is not written to
  expect(all([event('2026-03-01T09:00:00Z', 'nobody')]).paid?.email).toBe('')
})

it('kinds that are not known are passed over, and sales that say too little are none', () => {
  expect([isSale({ type: 'purchase.paid' }), isSale({ type: 'purchase.shipped' })]).toEqual([true, false])
  for (const wrong of [
    {},
    { type: 'purchase.paid', timestamp: 'today', data: {} },
    { type: 'purchase.refunded', timestamp: '2026-01-01T00:00:00Z', data: { order: '' } },
  ])
    expect(v.is(SaleEvent, wrong)).toBe(false)
})
