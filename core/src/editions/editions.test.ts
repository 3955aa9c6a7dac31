import fc from 'fast-check'
import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import { defaultRecipe } from '../brush/recipe.ts'
import type { PixelSha } from '../hashes.ts'
import type { PackManifest } from '../pack/manifest.ts'
import { cutManifest, givenAt, missingFrom, namesSaid, takenBy } from './cut.ts'
import { closedBrushes, moveTerm, nextChange, nextFirstDay, standingOf } from './lessons.ts'
import { linkEnd } from './link-end.ts'
import { Day, dayAt, daysBetween, endOfDay, momentOf, moveDay, Zone } from './moments.ts'
import { ClassKit, type EditionPlan, EditionPlan as Plan, wholePlan } from './plan.ts'

const sha = (n: number) => `${n}`.padStart(64, 'e') as PixelSha

/** A release of some brushes: each with a name, a tip and a grain of its own; every third stands by itself. */
function releaseOf(count: number): PackManifest {
  const brushes = Array.from({ length: count }, (_, n) => {
    const recipe = defaultRecipe({ sizePx: 20, reading: 'light', frames: 1 })
    recipe.ground.grain = {
      ...{ sha256: sha(1000 + n), anchor: 'canvas', scalePct: 40, strength: 0.8, brightness: 0, contrast: 0 },
      randomTurn: 'none',
    } as const
    if (n % 4 === 3) recipe.path.ribbon = { lay: 'repeated', leadInPx: 1, leadOutPx: 1 }
    return {
      ...{ id: `id-${n}-`, name: `Name ${n}.`, maker: '', licence: n % 2 ? 'CC0-1.0' : 'CC-BY-4.0', recipe },
      ...{ tags: [`tag ${n % 3}`], frames: [sha(n)], frameNames: [], keys: [], note: `Said of ${n}.` },
      thumbnail: { from: 'stroke' as const },
    }
  })
  const ids = brushes.map(({ id }) => id)
  return {
    ...{ format: 'satchel-pack', version: 7, title: 'Shore', maker: '', licence: 'CC-BY-4.0', help: '' },
    ...{ release: '1.0.0', brushes, destinations: ['Dunlin', 'Plover'] },
    grains: brushes.map((_, n) => ({ sha256: sha(1000 + n), name: `Grain of ${n}.` })),
    strips: brushes.flatMap(({ recipe, frames: [strip] }, n) =>
      recipe.path.ribbon && strip ? [{ sha256: strip, name: `Strip of ${n}.` }] : [],
    ),
    single: ids.filter((_, n) => n % 3 === 0),
    sets: [0, 1, 2].map((at) => ({ name: `Set ${at}`, brushes: ids.filter((_, n) => n % 3 === at || n === 0) })),
    pockets: [{ name: 'Mine', entries: ids.map((brush) => ({ brush, sizePx: 12, label: '' })) }],
  }
}

const lesson = (n: number, day: string, at: string, more: object = {}) => ({
  ...{ id: `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`, title: `Lesson ${n}`, day, at, closes: null },
  ...{ brushes: [] as string[], ...more },
})
const kitOf = (lessons: ReturnType<typeof lesson>[], more: object = {}): ClassKit =>
  v.parse(ClassKit, { zone: 'Europe/Oslo', lessons, lastDay: null, ...more })

describe('moments', () => {
  it('are those of the clock on the wall, in winter and in summer', () => {
    expect(momentOf({ day: '2026-03-28', at: '18:30' }, 'Europe/Oslo').toISOString()).toBe('2026-03-28T17:30:00.000Z')
    expect(momentOf({ day: '2026-03-29', at: '18:30' }, 'Europe/Oslo').toISOString()).toBe('2026-03-29T16:30:00.000Z')
    expect(momentOf({ day: '2026-01-01', at: '00:00' }, 'Asia/Kathmandu').toISOString()).toBe(
      '2025-12-31T18:15:00.000Z',
    )
  })

  it('take a time that is left out as if clocks had not gone yet, and the first of one that comes twice', () => {
    expect(momentOf({ day: '2026-03-29', at: '02:30' }, 'Europe/Oslo').toISOString()).toBe('2026-03-29T01:30:00.000Z')
    expect(momentOf({ day: '2026-10-25', at: '02:30' }, 'Europe/Oslo').toISOString()).toBe('2026-10-25T00:30:00.000Z')
    expect(momentOf({ day: '2026-11-01', at: '01:30' }, 'America/New_York').toISOString()).toBe(
      '2026-11-01T05:30:00.000Z',
    )
  })

  it('say which day it is there, and when it is over', () => {
    expect(dayAt(new Date('2026-12-31T11:00:00Z'), 'Pacific/Auckland')).toBe('2027-01-01')
    expect(endOfDay('2026-10-25', 'Europe/Oslo').toISOString()).toBe('2026-10-25T23:00:00.000Z')
    expect([moveDay('2028-02-28', 1), moveDay('2027-02-28', 1)]).toEqual(['2028-02-29', '2027-03-01'])
    expect(daysBetween('2026-10-01', '2026-11-01')).toBe(31)
  })

  it('are of days that there are, and of zones that are known by name', () => {
    for (const day of ['2026-02-29', '2026-13-01', '1999-01-01', '2026-1-1', '', '2026-00-10', '2200-01-01'])
      expect(v.is(Day, day), day).toBe(false)
    expect(v.is(Day, '2028-02-29')).toBe(true)
    for (const zone of ['+02:00', 'Etc/Nowhere', '', 'GMT+0x', "';--"]) expect(v.is(Zone, zone), zone).toBe(false)
    expect([v.is(Zone, 'Europe/Oslo'), v.is(Zone, 'UTC')]).toEqual([true, true])
  })
})

describe('a plan', () => {
  const release = releaseOf(9)

  it('takes everything, or what is in a set, under a tag or named, without what is left out', () => {
    const taken = (more: Partial<EditionPlan>) => [...takenBy({ ...wholePlan(), all: false, ...more }, release)].sort()
    expect(taken({ all: true })).toHaveLength(9)
    expect(taken({ all: true, without: ['id-4-'] })).toHaveLength(8)
    expect(taken({})).toEqual([])
    expect(taken({ sets: ['Set 1'] })).toEqual(['id-0-', 'id-1-', 'id-4-', 'id-7-'])
    expect(taken({ tags: ['tag 2'], brushes: ['id-0-'], without: ['id-5-'] })).toEqual(['id-0-', 'id-2-', 'id-8-'])
    expect(taken({ sets: ['gone'] })).toEqual([])
  })

  it('says what it names that is not there', () => {
    const plan = { ...wholePlan(), sets: ['Set 1', 'Reeds'], tags: ['tag 0', 'wet'] }
    expect(missingFrom(plan, release)).toEqual({ sets: ['Reeds'], tags: ['wet'] })
  })

  it('is refused where a lesson closes before it opens', () => {
    const closes = { day: '2026-10-05', at: '18:30' }
    expect(() => kitOf([lesson(1, '2026-10-05', '18:30', { closes })])).toThrow('closes after it opens')
    expect(v.is(Plan, { ...wholePlan(), more: 1 })).toBe(false)
  })
})

describe('lessons', () => {
  const kit = kitOf(
    [
      lesson(2, '2026-10-12', '18:00', { brushes: ['id-1-', 'id-2-'] }),
      lesson(1, '2026-10-05', '18:00', { brushes: ['id-1-'], closes: { day: '2026-10-06', at: '20:00' } }),
    ],
    { lastDay: '2026-12-14' },
  )
  const at = (text: string) => new Date(text)
  const plan = { ...wholePlan(), kit }
  const given = (text: string) => givenAt(plan, releaseOf(4), at(text))

  it('open their brushes and close them again; what is in none is open from the start', () => {
    expect(given('2026-10-05T15:59:59Z')).toEqual(['id-0-', 'id-3-'])
    expect(given('2026-10-05T16:00:00Z')).toEqual(['id-0-', 'id-1-', 'id-3-'])
    expect(given('2026-10-06T18:00:00Z')).toEqual(['id-0-', 'id-3-'])
    expect(given('2026-10-12T16:00:00Z')).toEqual(['id-0-', 'id-1-', 'id-2-', 'id-3-'])
  })

  it('stand in the order they open, each with its state', () => {
    const states = (text: string) => standingOf(kit, at(text)).map(({ lesson: { title }, state }) => [title, state])
    expect(states('2026-10-06T12:00:00Z')).toEqual([
      ['Lesson 1', 'open'],
      ['Lesson 2', 'to come'],
    ])
    expect(states('2026-10-06T18:00:00Z')[0]).toEqual(['Lesson 1', 'closed'])
  })

  it('say when something changes next, the end of the class among it', () => {
    const next = (text: string) => nextChange(kit, at(text))?.toISOString()
    expect(next('2026-10-05T15:59:59Z')).toBe('2026-10-05T16:00:00.000Z')
    expect(next('2026-10-05T16:00:00Z')).toBe('2026-10-06T18:00:00.000Z')
    expect(next('2026-11-01T00:00:00Z')).toBe('2026-12-14T23:00:00.000Z')
    expect(next('2026-12-14T23:00:00Z')).toBeUndefined()
  })

  it('change nothing between two such moments', () => {
    const days = fc.integer({ min: 0, max: 400 }).map((n) => moveDay('2026-01-01', n))
    const wall = fc.record({ day: days, at: fc.constantFrom('00:00', '02:30', '09:15', '23:59') })
    const lessons = fc.array(
      fc.record({ opens: wall, closes: fc.option(wall), brushes: fc.uniqueArray(fc.constantFrom('a', 'b', 'c')) }),
      { maxLength: 6 },
    )
    fc.assert(
      fc.property(
        lessons,
        fc.integer({ min: 0, max: 500 * 24 * 60 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (some, minutes, share) => {
          const made = some.flatMap(({ opens, closes, brushes }, n) => {
            const each = lesson(n, opens.day, opens.at, { brushes, closes })
            return v.is(ClassKit, { zone: 'Europe/Oslo', lessons: [each], lastDay: null }) ? [each] : []
          })
          const any = kitOf(made)
          const now = new Date(Date.parse('2025-12-01T00:00:00Z') + minutes * 60_000)
          const next = nextChange(any, now)?.getTime() ?? now.getTime() + 1e11
          const between = new Date(now.getTime() + Math.floor((next - 1 - now.getTime()) * share))
          expect([...closedBrushes(any, between)].sort()).toEqual([...closedBrushes(any, now)].sort())
        },
      ),
    )
  })

  it('move to another term by days, and stay at the same time of the day over summer time', () => {
    let n = 90
    const moved = moveTerm(plan, '2027-03-22', () => `00000000-0000-4000-8000-0000000000${n++}`).kit
    expect(moved?.lessons.map(({ day, at: time }) => [day, time])).toEqual([
      ['2027-03-29', '18:00'],
      ['2027-03-22', '18:00'],
    ])
    expect(moved?.lessons[1]?.closes).toEqual({ day: '2027-03-23', at: '20:00' })
    expect(moved?.lastDay).toBe('2027-05-31')
    // clocks go forward between the two
    expect(moved && standingOf(moved, at('2027-01-01T00:00:00Z')).map(({ opensAt }) => opensAt.toISOString())).toEqual([
      '2027-03-22T17:00:00.000Z',
      '2027-03-29T16:00:00.000Z',
    ])
    expect(new Set([...(moved?.lessons ?? []), ...kit.lessons].map(({ id }) => id)).size).toBe(4)
  })

  it('begin again on the same day of the week, after the last one and not in the past', () => {
    expect(nextFirstDay(kit, at('2026-10-01T00:00:00Z'))).toBe('2026-10-19')
    expect(nextFirstDay(kit, at('2027-01-13T12:00:00Z'))).toBe('2027-01-18')
  })
})

describe('a release that is cut', () => {
  const pick = fc.uniqueArray(fc.integer({ min: 0, max: 8 }))

  it('tells nothing of what is left out: no id, name, note, tip, grain or strip', () => {
    const release = releaseOf(9)
    fc.assert(
      fc.property(pick, (kept) => {
        const ids = kept.map((n) => `id-${n}-`)
        const text = JSON.stringify(cutManifest(release, wholePlan(), { ids, destinations: [] }))
        for (let n = 0; n < 9; n++)
          for (const trace of [`"id-${n}-"`, `Name ${n}.`, `of ${n}.`, sha(n), sha(1000 + n)])
            expect(text.includes(trace), `${trace} of ${kept}`).toBe(kept.includes(n))
      }),
    )
  })

  it('keeps everything where nothing is left out', () => {
    const release = releaseOf(9)
    const ids = release.brushes.map(({ id }) => id)
    expect(cutManifest(release, wholePlan(), { ids, destinations: release.destinations })).toEqual(release)
  })

  it('has the order, the sizes and the licence of the edition', () => {
    const pocket = [
      { brush: 'id-2-', sizePx: 40, label: 'wide' },
      { brush: 'id-5-', sizePx: 8, label: '' },
      { brush: 'id-1-', sizePx: 12, label: '' },
    ]
    const plan = { ...wholePlan(), pocket, licence: 'LicenseRef-Class' }
    const cut = cutManifest(releaseOf(4), plan, { ids: ['id-1-', 'id-2-'], destinations: ['Plover'] })
    expect(cut.pockets).toEqual([{ name: 'Shore', entries: [pocket[0], pocket[2]] }])
    expect(cut.brushes.map(({ licence }) => licence)).toEqual(['CC0-1.0', 'LicenseRef-Class'])
    expect([cut.licence, cut.destinations]).toEqual(['LicenseRef-Class', ['Plover']])
  })
})

it('a link ends by itself or with its class, and says the last day as its maker counts days', () => {
  const end = new Date('2027-05-05T03:59:59Z') // the end of 4 May in New York
  const kit = (lastDay: string) => kitOf([], { lastDay })
  expect(linkEnd(null, null, 'UTC')).toBeUndefined()
  expect(linkEnd(end, null, 'America/New_York')).toEqual({ at: end, lastDay: '4 May 2027' })
  expect(linkEnd(end, kit('2027-06-01'), 'America/New_York')?.at).toEqual(end)
  const ofClass = { at: new Date('2027-04-30T22:00:00Z'), lastDay: '30 April 2027' }
  expect(linkEnd(end, kit('2027-04-30'), 'UTC')).toEqual(ofClass)
  expect(linkEnd(null, kit('2027-04-30'), 'UTC')).toEqual(ofClass)
})

it('a text that names what is left out is found', () => {
  const left = ['Kelp blade', 'Down soft', 'Sand']
  expect(namesSaid('Start with the kelp BLADE, then sand.', left, ['sand'])).toEqual(['Kelp blade'])
  expect(namesSaid('', left, [])).toEqual([])
})
