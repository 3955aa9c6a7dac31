import { type PartChange, recipeDifference } from '../brush/recipe-difference.ts'
import { thumbnailWords } from '../brush/thumbnail.ts'
import type { PixelSha } from '../hashes.ts'
import type { PackBrush, PackManifest } from '../pack/manifest.ts'

/** A picture's size, and its file's. */
export type PictureFacts = { width: number; height: number; sizeBytes: number }

/** What two releases are told apart by: all that a pack says, and what is known of its pictures. */
export type Contents = {
  manifest: PackManifest
  /** The licence in full. */
  licenceText?: string
  pictures?: ReadonlyMap<PixelSha, PictureFacts>
}

/** One thing that was said otherwise: of the pack, or of a brush. */
export type Fact = { label: string; from: string; to: string }

/** A brush that is in both and differs: its words, its recipe's parts, its pictures. */
export type ChangedBrush = {
  id: string
  name: string
  facts: Fact[]
  parts: PartChange[]
  /** Its frames, its grain, or only their names or order. */
  pictures: Fact[]
}
type Named = { id: string; name: string }

/** All that is another in a second release than in a first one. */
export type Difference = {
  /** Of the pack itself. */
  facts: Fact[]
  brushes: {
    new: Named[]
    gone: Named[]
    renamed: (Named & { from: string })[]
    /** In other sets, or at another place. */
    moved: (Named & { from: string; to: string })[]
    changed: ChangedBrush[]
  }
  sets: {
    new: string[]
    gone: string[] /** Whether those that stayed follow one another otherwise. */
    reordered: boolean
  }
  pockets: Fact[]
  /** What grains and strips are called. */
  materials: Fact[]
}

const NOTHING = 'nothing'
const words = (text: string) => (text.trim() === '' ? NOTHING : text)

/** What a pack says of itself, one row a thing. */
const PACK_FACTS = {
  title: { label: 'Title', told: ({ title }) => title },
  maker: { label: 'Maker', told: ({ maker }) => maker },
  licence: { label: 'Licence', told: ({ licence }) => licence },
  help: { label: 'Help', told: ({ help }) => help },
  destinations: { label: 'Meant for', told: ({ destinations }) => destinations.join(', ') },
} satisfies { [Key in keyof PackManifest]?: { label: string; told(manifest: PackManifest): string } }

/** What is said of a brush beside its recipe and its pictures. */
const BRUSH_FACTS = {
  maker: { label: 'Maker', told: ({ maker }) => maker },
  licence: { label: 'Licence', told: ({ licence }) => licence },
  tags: { label: 'Tags', told: ({ tags }) => [...tags].sort().join(', ') },
  note: { label: 'Note', told: ({ note }) => note },
  keys: { label: 'Keys of its open file', told: ({ keys }) => keys.map((pair) => pair.join(':')).join(' ') },
  thumbnail: { label: 'Thumbnail', told: ({ thumbnail }) => thumbnailWords(thumbnail) },
} satisfies { [Key in keyof PackBrush]?: { label: string; told(brush: PackBrush): string } }

function factsOf<Holder>(
  rows: Record<string, { label: string; told(holder: Holder): string }>,
  before: Holder,
  after: Holder,
): Fact[] {
  return Object.values(rows).flatMap(({ label, told }) => {
    const [from, to] = [words(told(before)), words(told(after))]
    return from === to ? [] : [{ label, from, to }]
  })
}

/**
 * What is new, gone, renamed, moved and changed in a second release, or in a pack as it is now.
 *
 * Brushes are the same by their id; those that have none in common (the packs of two libraries) by their pictures and
 * recipe, then by their name, where each is the only one of that.
 */
export function differenceOf(before: Contents, after: Contents): Difference {
  const pairs = pairUp(before.manifest.brushes, after.manifest.brushes)
  const paired = new Set([...pairs.values()])
  const named = ({ id, name }: PackBrush): Named => ({ id, name })
  const [wasPlaced, isPlaced] = [placesOf(before.manifest), placesOf(after.manifest)]
  const kept = [...pairs].map(([is, was]) => ({ was, is }))
  const outOfOrder = findMoved(before.manifest, after.manifest, new Map(kept.map(({ was, is }) => [is.id, was.id])))
  return {
    facts: [...factsOf<PackManifest>(PACK_FACTS, before.manifest, after.manifest), ...licenceTextOf(before, after)],
    brushes: {
      new: after.manifest.brushes.filter((brush) => !pairs.has(brush)).map(named),
      gone: before.manifest.brushes.filter((brush) => !paired.has(brush)).map(named),
      renamed: kept.flatMap(({ was, is }) => (was.name === is.name ? [] : [{ ...named(is), from: was.name }])),
      moved: kept.flatMap(({ was, is }) => {
        const [from, to] = [wasPlaced(was.id), isPlaced(is.id)]
        if (from !== to) return [{ ...named(is), from, to }]
        const order = outOfOrder.get(is.id)
        return order ? [{ ...named(is), ...order }] : []
      }),
      changed: kept.flatMap(({ was, is }) => changeOf(was, is, before, after)),
    },
    sets: setsOf(before.manifest, after.manifest),
    pockets: pocketsOf(before.manifest, after.manifest),
    materials: materialsOf(before.manifest, after.manifest),
  }
}

/** Which brush of the first a brush of the second is. */
function pairUp(before: readonly PackBrush[], after: readonly PackBrush[]): Map<PackBrush, PackBrush> {
  const pairs = new Map<PackBrush, PackBrush>()
  const taken = new Set<PackBrush>()
  const byId = new Set(before.map(({ id }) => id))
  const isOneLibrary = after.some(({ id }) => byId.has(id))
  const byWhat: ((brush: PackBrush) => string)[] = [
    ({ frames, recipe }) => JSON.stringify([frames, recipe]),
    ({ name }) => name,
  ]
  for (const keyOf of isOneLibrary ? [({ id }: PackBrush) => id] : byWhat) {
    const left = after.filter((brush) => !pairs.has(brush))
    if (left.length === 0) break
    const old = onlyOnes(
      before.filter((brush) => !taken.has(brush)),
      keyOf,
    )
    for (const [key, is] of onlyOnes(left, keyOf)) {
      const was = old.get(key)
      if (!was) continue
      pairs.set(is, was)
      taken.add(was)
    }
  }
  // in the order of the second
  return new Map(after.flatMap((is) => (pairs.has(is) ? [[is, pairs.get(is) as PackBrush] as const] : [])))
}

function onlyOnes(brushes: readonly PackBrush[], keyOf: (brush: PackBrush) => string): Map<string, PackBrush> {
  const counts = new Map<string, number>()
  for (const brush of brushes) counts.set(keyOf(brush), (counts.get(keyOf(brush)) ?? 0) + 1)
  return new Map(brushes.filter((brush) => counts.get(keyOf(brush)) === 1).map((brush) => [keyOf(brush), brush]))
}

/** The sets a brush is in, and whether it stands by itself. */
function placesOf({ single, sets }: PackManifest): (id: string) => string {
  const places = new Map<string, string[]>()
  const add = (id: string, place: string) => {
    const known = places.get(id)
    if (known) known.push(place)
    else places.set(id, [place])
  }
  for (const id of single) add(id, 'by itself')
  for (const { name, brushes } of sets) for (const id of brushes) add(id, name)
  return (id) => places.get(id)?.join(', ') ?? 'no set'
}

/**
 * Brushes that lie before or behind others than they did in the same set: the fewest whose moving explains the new order, so that
 * one that goes to the front does not move all that were before it.
 */
function findMoved(
  before: PackManifest,
  after: PackManifest,
  wasOf: ReadonlyMap<string, string>,
): Map<string, { from: string; to: string }> {
  const moved = new Map<string, { from: string; to: string }>()
  const lists = ({ single, sets }: PackManifest) => [{ name: 'those by themselves', brushes: single }, ...sets]
  const old = new Map(lists(before).map(({ name, brushes }) => [name, brushes]))
  for (const { name, brushes } of lists(after)) {
    const places = new Map((old.get(name) ?? []).map((id, at) => [id, at]))
    const both = brushes.flatMap((id, to) => {
      const from = places.get(wasOf.get(id) ?? '')
      return from === undefined ? [] : [{ id, from, to }]
    })
    const stay = longestRise(both.map(({ from }) => from))
    for (const [i, { id, from, to }] of both.entries())
      if (!stay.has(i) && !moved.has(id)) moved.set(id, { from: `place ${from + 1} of ${name}`, to: `place ${to + 1}` })
  }
  return moved
}

/** The places of a longest part of a list of different numbers that rises. Patience sorting. */
function longestRise(numbers: readonly number[]): Set<number> {
  const ends: number[] = []
  const before: (number | undefined)[] = []
  for (const [i, number] of numbers.entries()) {
    let [low, high] = [0, ends.length]
    while (low < high) {
      const middle = (low + high) >> 1
      if ((numbers[ends[middle] as number] as number) < number) low = middle + 1
      else high = middle
    }
    before[i] = ends[low - 1]
    ends[low] = i
  }
  const rise = new Set<number>()
  for (let at = ends.at(-1); at !== undefined; at = before[at]) rise.add(at)
  return rise
}

function changeOf(was: PackBrush, is: PackBrush, before: Contents, after: Contents): ChangedBrush[] {
  const facts = factsOf<PackBrush>(BRUSH_FACTS, was, is)
  const parts = recipeDifference(was.recipe, is.recipe)
  const pictures = picturesOf(was, is, before, after)
  if (facts.length + parts.length + pictures.length === 0) return []
  return [{ id: is.id, name: is.name, facts, parts, pictures }]
}

function picturesOf(was: PackBrush, is: PackBrush, before: Contents, after: Contents): Fact[] {
  const changes: Fact[] = []
  if (was.frames.join() !== is.frames.join()) {
    const told = ({ frames }: PackBrush, { pictures }: Contents) =>
      [
        frames.length === 1 ? '1 frame' : `${frames.length} frames`,
        ...(frames[0] ? sizeWords(pictures?.get(frames[0])) : []),
        ...bytesWords(frames.map((sha) => pictures?.get(sha))),
      ].join(', ')
    const others = is.frames.filter((sha, i) => was.frames[i] !== sha).length
    const gone = Math.max(0, was.frames.length - is.frames.length)
    const [from, to] = [told(was, before), told(is, after)]
    const label = was.frames.toSorted().join() === is.frames.toSorted().join() ? 'Order of frames' : 'Frames'
    changes.push({ label, from, to: from === to ? `${to}, ${others + gone} of other pixels` : to })
  }
  const names = (brush: PackBrush) => words(brush.frameNames.join(', '))
  if (names(was) !== names(is)) changes.push({ label: 'Names of frames', from: names(was), to: names(is) })
  return changes
}

const sizeWords = (facts: PictureFacts | undefined): string[] => (facts ? [`${facts.width} × ${facts.height} px`] : [])
function bytesWords(all: (PictureFacts | undefined)[]): string[] {
  if (all.some((facts) => facts === undefined)) return []
  return [`${all.reduce((sum, facts) => sum + (facts?.sizeBytes ?? 0), 0)} bytes`]
}

function setsOf(before: PackManifest, after: PackManifest): Difference['sets'] {
  const [was, is] = [before, after].map(({ sets }) => sets.map(({ name }) => name)) as [string[], string[]]
  const gone = was.filter((name) => !is.includes(name))
  const added = is.filter((name) => !was.includes(name))
  const [left, right] = [was.filter((name) => is.includes(name)), is.filter((name) => was.includes(name))]
  return { new: added, gone, reordered: left.join('\n') !== right.join('\n') }
}

function pocketsOf(before: PackManifest, after: PackManifest): Fact[] {
  const told = ({ pockets, brushes }: PackManifest) => {
    const nameOf = new Map(brushes.map(({ id, name }) => [id, name]))
    return new Map(
      pockets.map(({ name, entries }) => [
        name,
        entries
          .map(({ brush, sizePx, label }) => `${nameOf.get(brush)} at ${sizePx} px${label && ` (${label})`}`)
          .join(', '),
      ]),
    )
  }
  const [was, is] = [told(before), told(after)]
  return [...new Set([...was.keys(), ...is.keys()])].flatMap((name) => {
    const [from, to] = [words(was.get(name) ?? ''), words(is.get(name) ?? '')]
    return from === to ? [] : [{ label: `Pocket ${name}`, from, to }]
  })
}

/** The text of a licence is pages long: that it is another is all that is told of it. */
function licenceTextOf({ licenceText: was }: Contents, { licenceText: is }: Contents): Fact[] {
  if (was === undefined || is === undefined || was === is) return []
  return [{ label: 'Text of the licence', from: `${was.length} characters`, to: `${is.length} characters, other ones` }]
}

function materialsOf(before: PackManifest, after: PackManifest): Fact[] {
  const names = ({ grains, strips }: PackManifest) =>
    new Map([...grains, ...strips].map(({ sha256, name }) => [sha256, name]))
  const [was, is] = [names(before), names(after)]
  return [...is].flatMap(([sha256, name]) => {
    const old = was.get(sha256)
    return old === undefined || old === name ? [] : [{ label: 'Name of a grain or strip', from: old, to: name }]
  })
}

/** Whether nothing differs at all. */
export const isSame = ({ facts, brushes, sets, pockets, materials }: Difference): boolean =>
  facts.length + pockets.length + materials.length + sets.new.length + sets.gone.length === 0 &&
  !sets.reordered &&
  Object.values(brushes).every((list) => list.length === 0)
