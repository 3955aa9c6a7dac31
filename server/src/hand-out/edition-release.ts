import { createHash } from 'node:crypto'
import { cutManifest, givenAt } from '@satchel/core/editions/cut'
import { endOf } from '@satchel/core/editions/lessons'
import type { EditionBuild } from '../db/editions.ts'
import type { Release } from '../db/releases.ts'
import type { Cut } from '../db/schema/all.ts'

/** How the files of what is given stand: nothing is open yet, say, and then there are none. */
export type FilesState = 'ready' | 'building' | 'failed' | 'nothing'

/** A release as somebody has it: all of it, or what an edition lets them have just now, in the very shape of a release. */
export type Given = Release & { buildId: string | null; files: FilesState }

export const wholeRelease = (release: Release): Given => ({
  ...release,
  buildId: null,
  files: release.zipSha === null ? 'building' : 'ready',
})

/** What an edition gives of a release at a moment. */
export const cutAt = (plan: Cut['plan'], release: Release, now: Date): Cut => ({
  plan,
  brushes: givenAt(plan, release.manifest, now),
})

/** Whether a cut leaves a release's own download as it is. */
export const isWhole = ({ plan, brushes }: Cut, { manifest }: Release): boolean =>
  brushes.length === manifest.brushes.length &&
  plan.pocket === null &&
  plan.destinations === null &&
  plan.setup === null &&
  plan.openFiles &&
  plan.licence === '' &&
  plan.licenceText === ''

/** Names all that the download of a cut follows from. */
export function keyOfCut({ plan, brushes }: Cut, release: Pick<Release, 'id'>): string {
  const { pocket, setup, kit, destinations, openFiles, licence, licenceText } = plan
  const facts: unknown[] = [release.id, brushes, pocket, destinations, openFiles, licence, licenceText]
  if (setup) facts.push([setup, kit && endOf(kit)])
  return createHash('sha256').update(JSON.stringify(facts)).digest('hex')
}

/**
 * A release with nothing in it that tells of what was left out. It is given no file yet: its own download has everything.
 */
export function cutRelease(release: Release, cut: Cut): Release {
  const { plan, brushes: ids } = cut
  const kept = new Set(ids)
  const isFor = ({ id }: { id: string }) => plan.destinations === null || plan.destinations.includes(id)
  const notFor = new Set(release.destinations.filter((each) => !isFor(each)).map(({ description }) => description.name))
  const destinations = release.manifest.destinations.filter((name) => !notFor.has(name))
  const hasAll = ids.length === release.manifest.brushes.length
  // a cover shows strokes: one of which nobody noted whose they are is only shown where all of them are given
  const isCoverGiven = release.coverBrushIds ? release.coverBrushIds.every((id) => kept.has(id)) : hasAll
  return {
    ...release,
    manifest: cutManifest(release.manifest, plan, { ids, destinations }),
    brushes: release.brushes.filter(({ id }) => kept.has(id)),
    destinations: release.destinations.filter(isFor).map(({ choices, ...each }) => ({
      ...each,
      choices: choices.filter(([id]) => kept.has(id)),
    })),
    // what is new in a release names brushes
    notes: plan.notes || (hasAll ? release.notes : ''),
    coverBrushId: release.coverBrushId !== null && kept.has(release.coverBrushId) ? release.coverBrushId : null,
    coverSha: isCoverGiven ? release.coverSha : null,
    letPass: [],
    ...{ zipSha: null, zipBytes: null, zipFiles: null, contentsSha: null },
  }
}

/** A cut release with the download that was built for it. */
export function withBuild(cut: Release, build: EditionBuild | undefined): Given {
  if (cut.brushes.length === 0) return { ...cut, buildId: null, files: 'nothing' }
  if (build?.state !== 'ready') return { ...cut, buildId: null, files: build?.state ?? 'building' }
  const { id, zipSha, zipBytes, zipFiles, contentsSha } = build
  return { ...cut, ...{ zipSha, zipBytes, zipFiles, contentsSha }, buildId: id, files: 'ready' }
}
