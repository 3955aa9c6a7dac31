import { isSameValue } from '@satchel/core/brush/same-value'
import { decide, UNDECIDED } from '@satchel/core/newer/merge'
import { isOlder } from '@satchel/core/releases/version'
import { binBrushes } from '../../db/brush-bin.ts'
import type { Db } from '../../db/database.ts'
import type { GatherLine } from '../../db/gathers.ts'
import { entryOf } from '../../db/many.ts'
import { type BrushSave, insertTips, saveBrushes } from '../../db/save-brush.ts'
import type { BrushSnapshot } from '../../db/schema/library.ts'
import type { LineSource } from '../../db/schema/taken.ts'
import {
  findBrushIds,
  findTaken,
  findTakenPacks,
  loadWholeBrushes,
  noteOrigins,
  noteTakenPack,
  type Origin,
  type TakenBrush,
  type WholeBrush,
} from '../../db/taken.ts'
import { stateOfBrush, stateOfLine } from './states.ts'

/** Brushes that are joined together. */
const AT_ONCE = 500

/** Lines that become brushes, and lines that change brushes which are here. */
export type Parted = { fresh: GatherLine[]; newer: GatherLine[] }

/** Tells lines that become brushes from those that change some. Of two releases of one brush the newer changes the older. */
export async function partNewer(db: Db, workspaceId: string, lines: readonly GatherLine[]): Promise<Parted> {
  const origins = lines.flatMap(({ origin }) => origin ?? [])
  const here = await findBrushIds(db, workspaceId, origins)
  const releaseOf = ({ brush }: GatherLine) => brush?.source?.release ?? ''
  const parted: Parted = { fresh: [], newer: [] }
  const oldest = new Map<string, GatherLine>()
  for (const line of lines) {
    const known = line.origin && oldest.get(line.origin)
    if (line.origin && (!known || isOlder(releaseOf(line), releaseOf(known)))) oldest.set(line.origin, line)
  }
  for (const line of lines) {
    const { origin, decision } = line
    const isHere = origin !== null && here.has(origin)
    const isNew = origin === null || decision?.way === 'both' || (!isHere && oldest.get(origin) === line)
    parted[isNew ? 'fresh' : 'newer'].push(line)
  }
  parted.newer.sort((a, b) => (isOlder(releaseOf(a), releaseOf(b)) ? -1 : isOlder(releaseOf(b), releaseOf(a)) ? 1 : 0))
  return parted
}

/** What became of lines that change brushes. */
export type Followed = {
  /** Brushes that went to another version. */
  followed: { id: string; from: number; to: number }[]
  /** Brushes that stayed as they are, by decision or since all of it is here. */
  kept: number
  restored: string[]
  /** Lines whose grain is used by now. */
  grains: GatherLine[]
}

/** Joins lines with the brushes that were taken of them before, each by its decision, as one version more. */
export async function takeNewer(
  tx: Db,
  { workspaceId, gatherId }: { workspaceId: string; gatherId: string },
  lines: readonly GatherLine[],
  packIds: ReadonlyMap<string, string>,
): Promise<Followed> {
  const all: Followed = { followed: [], kept: 0, restored: [], grains: [] }
  const followed = new Map<string, { from: number; to: number }>()
  for (const round of roundsOf(lines)) {
    for (let at = 0; at < round.length; at += AT_ONCE) {
      const some = round.slice(at, at + AT_ONCE)
      const taken = await findTaken(
        tx,
        workspaceId,
        some.flatMap(({ origin }) => origin ?? []),
      )
      const ids = [...taken.values()].flatMap(({ brushId }) => brushId ?? [])
      const brushes = await loadWholeBrushes(tx, workspaceId, ids, { hold: true })
      const binned = ids.filter((id) => brushes.get(id)?.deletedAt)
      if (binned.length > 0) await binBrushes(tx, workspaceId, binned, false)
      all.restored.push(...binned)
      const joins = some.flatMap((line) => joinOf(line, taken, brushes) ?? [])
      const withTip = joins.filter((join) => join.needsTip)
      const tips = await insertTips(
        tx,
        workspaceId,
        withTip.map(({ line }) => ({
          frames: line.frames,
          pixelKey: line.pixelKey ?? '',
          alikeKey: line.alikeKey,
          alikeMark: line.alikeMark,
          ...(line.brush?.fileKeys ? { fileKeys: line.brush.fileKeys } : {}),
        })),
      )
      for (const [i, join] of withTip.entries()) join.snapshot = { ...join.snapshot, tipId: entryOf(tips, i) }
      const changed = joins.filter((join) => join.isChanged)
      const saves = changed.map(
        ({ here, snapshot, line }): BrushSave => ({ id: here.id, from: here.version, snapshot, label: labelOf(line) }),
      )
      const saved = await saveBrushes(tx, workspaceId, saves)
      if (saved.size !== saves.length) throw new Error('a brush moved on while it was held')
      // of a brush that follows twice in one act, taking back goes to where it was before both
      for (const { id, from } of saves) followed.set(id, { from: followed.get(id)?.from ?? from, to: from + 1 })
      all.kept += joins.length - changed.length
      all.grains.push(...changed.flatMap(({ line, usesGrain }) => (usesGrain ? line : [])))
      const origins = joins.map(({ line, here }) => originOfLine(line, here.id, packIds))
      await noteOrigins(tx, workspaceId, gatherId, origins)
    }
  }
  all.followed = [...followed].map(([id, moved]) => ({ id, ...moved }))
  return all
}

/** Lines in rounds, in each of which a brush is changed once. */
function roundsOf(lines: readonly GatherLine[]): GatherLine[][] {
  const rounds: GatherLine[][] = []
  const times = new Map<string, number>()
  for (const line of lines) {
    const origin = line.origin ?? ''
    const round = times.get(origin) ?? 0
    times.set(origin, round + 1)
    rounds[round] ??= []
    rounds[round].push(line)
  }
  return rounds
}

type Join = {
  line: GatherLine
  here: WholeBrush
  snapshot: BrushSnapshot
  needsTip: boolean
  usesGrain: boolean
  isChanged: boolean
}

function joinOf(
  line: GatherLine,
  taken: ReadonlyMap<string, TakenBrush>,
  brushes: ReadonlyMap<string, WholeBrush>,
): Join | undefined {
  const before = taken.get(line.origin ?? '')
  const here = before?.brushId ? brushes.get(before.brushId) : undefined
  if (!before || !here) return undefined
  const three = { base: before.base, mine: stateOfBrush(here), theirs: stateOfLine(line) }
  const { result, from } = decide(three, line.decision ?? UNDECIDED)
  // a name given in the ledger is the curator's own
  const name = line.name === line.path ? result.name : line.name
  const needsTip = from.pictures === 'theirs' && !isSameValue(three.theirs.pictures, three.mine.pictures)
  const { maker, licence, tags, recipe } = result
  const thumbnail =
    from.thumbnail === 'theirs' ? (line.brush?.thumbnail ?? { from: 'stroke' as const }) : here.snapshot.thumbnail
  const snapshot = { name, maker, licence, tags: [...tags], recipe, tipId: here.snapshot.tipId, thumbnail }
  return {
    ...{ line, here, snapshot, needsTip },
    usesGrain: recipe.ground.grain?.sha256 === line.grain?.pixelSha,
    isChanged: needsTip || !isSameValue({ ...result, name }, three.mine),
  }
}

const labelOf = ({ brush }: GatherLine): string =>
  [brush?.source?.title, brush?.source?.release].filter(Boolean).join(' ').slice(0, 80)

/** Where a line's brush came from, with all of it as its maker gives it. */
export function originOfLine(line: GatherLine, brushId: string, packIds: ReadonlyMap<string, string>): Origin {
  const packId = packIds.get(line.brush?.source?.key ?? '')
  if (!line.origin || !packId) throw new Error(`line ${line.id} came in no pack`)
  const { release = '', signer = '' } = line.brush?.source ?? {}
  return { origin: line.origin, brushId, packId, release, signer, base: stateOfLine(line) }
}

/** Where the sets of packs went before: by the pack's key, and there by the set's name. */
export async function findSetsOf(
  db: Db,
  workspaceId: string,
  keys: readonly string[],
): Promise<Map<string, Map<string, string>>> {
  const packs = await findTakenPacks(db, workspaceId, keys)
  return new Map([...packs].map(([key, { sets }]) => [key, new Map(sets)]))
}

/** Notes the packs that lines came in, each by its newest release. @returns Their ids here, by their keys. */
export async function notePacks(
  db: Db,
  { workspaceId, gatherId }: { workspaceId: string; gatherId: string },
  lines: readonly GatherLine[],
  setsOf: ReadonlyMap<string, ReadonlyMap<string, string>>,
): Promise<Map<string, string>> {
  const known = await findTakenPacks(db, workspaceId, [
    ...new Set(lines.flatMap(({ brush }) => brush?.source?.key ?? [])),
  ])
  const newest = new Map<string, Pick<LineSource, 'title' | 'release' | 'exchange'>>()
  for (const { origin, brush } of lines) {
    const source = brush?.source
    if (!origin || !source) continue
    const now = newest.get(source.key) ?? known.get(source.key)
    if (!now || !isOlder(source.release, now.release)) newest.set(source.key, source)
    else if (!newest.has(source.key)) newest.set(source.key, { title: now.title, release: now.release })
  }
  const ids = new Map<string, string>()
  for (const [key, { title, release, exchange }] of newest) {
    const sets = [...(setsOf.get(key) ?? [])]
    ids.set(
      key,
      await noteTakenPack(db, workspaceId, gatherId, { key, title, release, sets, ...(exchange ? { exchange } : {}) }),
    )
  }
  return ids
}

/** Notes a release as the one that brushes came in of which it changes nothing, where they are still here. */
export async function noteSame(
  tx: Db,
  { workspaceId, gatherId }: { workspaceId: string; gatherId: string },
  lines: readonly GatherLine[],
  packIds: ReadonlyMap<string, string>,
): Promise<void> {
  const here = await findBrushIds(
    tx,
    workspaceId,
    lines.flatMap(({ origin }) => origin ?? []),
  )
  const origins = lines.flatMap((line) => {
    const brushId = here.get(line.origin ?? '')
    return brushId ? originOfLine(line, brushId, packIds) : []
  })
  await noteOrigins(tx, workspaceId, gatherId, origins)
}
