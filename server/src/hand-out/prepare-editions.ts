import { endOf, nextChange } from '@satchel/core/editions/lessons'
import type { AppDeps } from '../app-deps.ts'
import { claimEdition, dropBuilds, type Edition, listPinned, noteBuild, prepareLater } from '../db/editions.ts'
import { listLatestJobs } from '../db/jobs.ts'
import { findNewestRelease, findRelease, type Release } from '../db/releases.ts'
import type { Cut } from '../db/schema/all.ts'
import { lookAgain } from '../look-again.ts'
import { cutAt, isWhole, keyOfCut } from './edition-release.ts'

const LOOK_MS = 2_000
/** How long before a lesson opens its download is built. */
const AHEAD_MS = 60 * 60 * 1000
/** How long a download stays that nobody gets any more: who began with it may go on. */
const KEPT_MS = 2 * 60 * 60 * 1000

type Needed = Pick<AppDeps, 'db' | 'jobs'>

/**
 * Has the downloads of editions built before they are asked for: after a change, for a newer release, before a lesson opens.
 * @returns How to stop looking.
 */
export function keepEditions({ log, ...deps }: Needed & Pick<AppDeps, 'log'>): () => void {
  const look = async () => {
    // one that cannot be prepared now stays claimed for a while, and holds up no other
    for (let due = await claimEdition(deps.db); due; due = await claimEdition(deps.db))
      await prepare(deps, due).catch((error: unknown) => log.error({ err: error }, 'preparing an edition'))
  }
  return lookAgain(LOOK_MS, look, (error) => log.error({ err: error }, 'preparing editions'))
}

async function prepare(deps: Needed, edition: Edition): Promise<void> {
  const now = new Date()
  const { kit } = edition.plan
  const ends = kit ? endOf(kit) : undefined
  const releases = ends && ends <= now ? [] : await givenReleases(deps, edition)
  const next = kit ? nextChange(kit, now) : undefined
  const isSoon = next && next.getTime() - now.getTime() <= AHEAD_MS
  const keys: string[] = []
  for (const release of releases)
    for (const moment of isSoon ? [now, next] : [now]) {
      const cut = cutAt(edition.plan, release, moment)
      if (cut.brushes.length === 0 || isWhole(cut, release)) continue
      keys.push(keyOfCut(cut, release))
      await ensureBuild(deps, edition, release, cut)
    }
  await dropBuilds(deps.db, edition, { keep: keys, until: new Date(now.getTime() - KEPT_MS) })
  const later = next && releases.length > 0 ? new Date(isSoon ? next : next.getTime() - AHEAD_MS) : null
  await prepareLater(deps.db, edition, later)
}

/** The releases that those get who have an edition. */
async function givenReleases({ db }: Needed, edition: Edition): Promise<Release[]> {
  const { workspaceId, packId } = edition
  const given = await listPinned(db, edition)
  const newest = given.some(({ follows }) => follows) ? await findNewestRelease(db, workspaceId, packId) : undefined
  const releases = new Map<string, Release>(newest ? [[newest.id, newest]] : [])
  for (const { releaseId } of given.filter(({ follows }) => !follows)) {
    const release = releases.get(releaseId) ?? (await findRelease(db, workspaceId, releaseId))
    if (release?.state === 'ready' && release.recalledAt === null) releases.set(releaseId, release)
  }
  return [...releases.values()]
}

/** Notes that a cut is to be built, and has it built unless somebody tried that already. */
async function ensureBuild(
  { db, jobs }: Needed,
  { workspaceId, id: editionId, name }: Pick<Edition, 'workspaceId' | 'id' | 'name'>,
  release: Release,
  cut: Cut,
) {
  const key = keyOfCut(cut, release)
  const { id: buildId, state } = await noteBuild(db, { workspaceId, editionId, releaseId: release.id, key, cut })
  if (state !== 'building') return
  const tried = await listLatestJobs(db, workspaceId, 'build-edition', [buildId])
  if (!tried.has(buildId)) await buildEditionAgain({ jobs }, { workspaceId, name, buildId, version: release.version })
}

/** Has a download of an edition built, for the first time or after that failed. */
export async function buildEditionAgain(
  { jobs }: Pick<AppDeps, 'jobs'>,
  { workspaceId, name, buildId, version }: { workspaceId: string; name: string; buildId: string; version: string },
): Promise<void> {
  const title = `Building ${name}, ${version}`
  await jobs.add({ workspaceId, kind: 'build-edition', subjectId: buildId, title, payload: {} })
}
