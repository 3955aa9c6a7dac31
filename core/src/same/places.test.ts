import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { applyMoves, applyReturn, type Place, planMoves, planReturn } from './places.ts'

const BRUSHES = ['a', 'b', 'c', 'd', 'e', 'f']
/** Two go for the first, one for another one; the rest stays. */
const KEPT = new Map([
  ['b', 'a'],
  ['c', 'a'],
  ['e', 'd'],
])

const slotOf = ({ list, slot, brush }: Place) => `${list} ${slot} ${brush}`
const sorted = (places: readonly Place[]) => [...places].sort((x, y) => (x.id < y.id ? -1 : 1))

/** Places with names of their own, a brush once in each slot. */
const somePlaces = fc
  .uniqueArray(
    fc.record({
      list: fc.constantFrom('shore', 'dune'),
      slot: fc.constantFrom('', '24'),
      brush: fc.constantFrom(...BRUSHES),
    }),
    { selector: ({ list, slot, brush }) => `${list} ${slot} ${brush}`, maxLength: 20 },
  )
  .map((places) => places.map((place, i): Place => ({ id: `place ${i}`, ...place })))

describe('keeping one brush instead of others', () => {
  it('puts the kept one where the first of the others stood, once in each list', () => {
    const at = (id: string, list: string, brush: string): Place => ({ id, list, slot: '', brush })
    const places = [at('1', 'shore', 'c'), at('2', 'shore', 'b'), at('3', 'dune', 'b'), at('4', 'dune', 'a')]
    const moves = planMoves(places, KEPT)
    expect(moves.map(({ id, to }) => [id, to])).toEqual([
      ['1', 'a'],
      ['2', null],
      ['3', null],
    ])
    expect(applyMoves(places, moves)).toEqual([at('1', 'shore', 'a'), at('4', 'dune', 'a')])
  })

  it('leaves no place of what goes, loses no list of any brush, and holds none twice', () => {
    fc.assert(
      fc.property(somePlaces, (places) => {
        const after = applyMoves(places, planMoves(places, KEPT))
        expect(after.filter(({ brush }) => KEPT.has(brush))).toEqual([])
        expect(new Set(after.map(slotOf)).size).toBe(after.length)
        const wanted = new Set(places.map((place) => slotOf({ ...place, brush: KEPT.get(place.brush) ?? place.brush })))
        expect(new Set(after.map(slotOf))).toEqual(wanted)
        // what has nothing to do with it stands where it stood
        const isOther = ({ brush }: Place) => brush === 'f'
        expect(after.filter(isOther)).toEqual(places.filter(isOther))
      }),
    )
  })

  it('is taken back whole where nothing was changed since', () => {
    fc.assert(
      fc.property(somePlaces, (places) => {
        const moves = planMoves(places, KEPT)
        const after = applyMoves(places, moves)
        expect(sorted(applyReturn(after, planReturn(after, moves)))).toEqual(sorted(places))
      }),
    )
  })

  it('is taken back around what was done since, which stays', () => {
    const act = fc.oneof(
      fc.record({ how: fc.constant('drop' as const), at: fc.nat() }),
      fc.record({ how: fc.constant('swap' as const), at: fc.nat(), brush: fc.constantFrom(...BRUSHES) }),
      fc.record({ how: fc.constant('add' as const), brush: fc.constantFrom(...BRUSHES) }),
    )
    fc.assert(
      fc.property(somePlaces, fc.array(act, { maxLength: 6 }), (places, acts) => {
        const moves = planMoves(places, KEPT)
        const after = applyMoves(places, moves)
        let now = after
        const touched = new Set<string>()
        for (const [n, each] of acts.entries()) {
          if (each.how === 'add') now = [...now, { id: `new ${n}`, list: 'shore', slot: '', brush: each.brush }]
          else {
            const place = now[each.at % Math.max(1, now.length)]
            if (!place) continue
            touched.add(place.id)
            now =
              each.how === 'drop'
                ? now.filter(({ id }) => id !== place.id)
                : now.map((one) => (one.id === place.id ? { ...one, brush: each.brush } : one))
          }
          now = now.filter((place, i) => now.findIndex((one) => slotOf(one) === slotOf(place)) === i)
        }
        const back = applyReturn(now, planReturn(now, moves))
        expect(new Set(back.map(slotOf)).size).toBe(back.length)
        expect(new Set(back.map(({ id }) => id)).size).toBe(back.length)
        const moved = new Map(moves.map(({ id, to }) => [id, to]))
        for (const place of now) {
          const is = back.find(({ id }) => id === place.id)
          // only what the moves had put there goes, and only to what stood there before
          if (place.brush === moved.get(place.id))
            expect([place.brush, places.find(({ id }) => id === place.id)?.brush]).toContain(is?.brush)
          else expect(is).toEqual(place)
        }
        // what was dropped since does not come again
        for (const id of touched)
          if (!now.some((place) => place.id === id)) expect(back.some((place) => place.id === id)).toBe(false)
      }),
    )
  })
})
