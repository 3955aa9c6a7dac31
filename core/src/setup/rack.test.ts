import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type LaidOut, type PocketEntry, type PuttingBack, planPutBack, type Rack, setsToHide } from './rack.ts'

const SETS = ['a', 'b', 'c', 'd', 'e']
const entry = (id: string, sizePx = 10): PocketEntry => ({ id, brushId: `of ${id}`, sizePx, label: '' })

/** A card as it is laid out: what is hidden, a pocket of its own. */
function layOut(
  rack: Rack,
  name: string,
  wants: { hidden: string[]; hidesOthers: boolean },
  inUse: readonly LaidOut[],
) {
  const own = new Map([['its own', 'a'], ...wants.hidden.map((id) => [id, id] as const)])
  const hidden = setsToHide(wants, rack, own, inUse)
  const laid: LaidOut = { hidden, pockets: [{ id: name, entries: [entry(`${name}1`), entry(`${name}2`)] }] }
  const after: Rack = {
    sets: rack.sets.map((set) => ({ ...set, isHidden: set.isHidden || hidden.includes(set.id) })),
    pockets: [...rack.pockets, ...laid.pockets],
  }
  return { laid, after }
}

const carryOut = (rack: Rack, { shows, removes, putsAway }: PuttingBack): Rack => ({
  sets: rack.sets.map((set) => ({ ...set, isHidden: set.isHidden && !shows.includes(set.id) })),
  pockets: rack.pockets
    .filter(({ id }) => !putsAway.includes(id))
    .map(({ id, entries }) => ({ id, entries: entries.filter((each) => !removes.includes(each.id)) })),
})

const anyRack: fc.Arbitrary<Rack> = fc.record({
  sets: fc
    .subarray(SETS)
    .chain((ids) => fc.tuple(...ids.map((id) => fc.boolean().map((isHidden) => ({ id, isHidden }))))),
  pockets: fc.constantFrom<Rack['pockets']>([], [{ id: 'mine', entries: [entry('m1'), entry('m2')] }]),
})
const anyWants = fc.record({ hidden: fc.subarray(SETS), hidesOthers: fc.boolean() })

/** What the owner does meanwhile, each to what is there. */
const anyEdit = fc.record({
  does: fc.constantFrom('hide', 'remove set', 'pin', 'resize', 'unpin', 'put pocket away'),
  at: fc.nat({ max: 9 }),
})
function edit(rack: Rack, { does, at }: { does: string; at: number }, n: number): Rack {
  const pocket = rack.pockets[at % Math.max(1, rack.pockets.length)]
  const inPocket = (change: (entries: readonly PocketEntry[]) => readonly PocketEntry[]): Rack => ({
    ...rack,
    pockets: rack.pockets.map((each) => (each === pocket ? { ...each, entries: change(each.entries) } : each)),
  })
  switch (does) {
    case 'hide':
      return { ...rack, sets: rack.sets.map((set, i) => (i === at ? { ...set, isHidden: true } : set)) }
    case 'remove set':
      return { ...rack, sets: rack.sets.filter((_, i) => i !== at) }
    case 'pin':
      return inPocket((entries) => [...entries, entry(`own ${n}`)])
    case 'resize':
      return inPocket((entries) => entries.map((each, i) => (i === at % 3 ? { ...each, sizePx: 99 } : each)))
    case 'unpin':
      return inPocket((entries) => entries.filter((_, i) => i !== at % 3))
    default:
      return { ...rack, pockets: rack.pockets.filter((each) => each !== pocket) }
  }
}

describe('a setup card that is put back', () => {
  it('leaves the rack as it was', () => {
    fc.assert(
      fc.property(anyRack, anyWants, (before, wants) => {
        const { laid, after } = layOut(before, 'card', wants, [])
        expect(carryOut(after, planPutBack(laid, after, []))).toEqual(before)
      }),
    )
  })

  it('leaves what was changed meanwhile, and takes only what came with it', () => {
    fc.assert(
      fc.property(anyRack, anyWants, fc.array(anyEdit, { maxLength: 6 }), (before, wants, edits) => {
        const { laid, after } = layOut(before, 'card', wants, [])
        const now = edits.reduce(edit, after)
        const plan = planPutBack(laid, now, [])
        const back = carryOut(now, plan)
        const was = new Map(before.sets.map(({ id, isHidden }) => [id, isHidden]))
        for (const { id, isHidden } of back.sets) {
          // a set that the card hid is shown; any other one is as it was left
          const left = now.sets.find((set) => set.id === id)?.isHidden
          expect(isHidden).toBe(laid.hidden.includes(id) ? was.get(id) : left)
        }
        const came = new Map(laid.pockets[0]?.entries.map((each) => [each.id, each]))
        const all = ({ pockets }: Rack) => pockets.flatMap(({ entries }) => entries)
        const own = all(now).filter((each) => came.get(each.id)?.sizePx !== each.sizePx)
        expect(all(back)).toEqual(own)
        expect(plan.kept).toBe(
          now.pockets.find(({ id }) => id === 'card')?.entries.filter((each) => own.includes(each)).length ?? 0,
        )
        // a second time there is nothing more to do
        expect(planPutBack(laid, back, [])).toMatchObject({ shows: [], removes: [] })
      }),
    )
  })

  it('in whatever order, with another one beside it', () => {
    fc.assert(
      fc.property(anyRack, anyWants, anyWants, fc.boolean(), (before, one, two, firstFirst) => {
        const first = layOut(before, 'first', one, [])
        const second = layOut(first.after, 'second', two, [first.laid])
        const order = firstFirst ? [first.laid, second.laid] : [second.laid, first.laid]
        const [next, last] = order as [LaidOut, LaidOut]
        const middle = carryOut(second.after, planPutBack(next, second.after, [last]))
        // what the one that is still laid out hides is out of sight
        for (const id of last.hidden) expect(middle.sets.find((set) => set.id === id)?.isHidden).toBe(true)
        expect(carryOut(middle, planPutBack(last, middle, []))).toEqual(before)
      }),
    )
  })
})
