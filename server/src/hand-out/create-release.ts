import { whyNoVersion } from '@satchel/core/releases/version'
import type { AppDeps } from '../app-deps.ts'
import type { Pack } from '../db/packs.ts'
import { insertRelease, listReleases, type Release } from '../db/releases.ts'
import { Refusal } from '../errors.ts'
import { freeze } from './freeze.ts'

/**
 * Freezes a pack as it is into a release, and has its download built.
 * @throws {Refusal} If the version cannot be had, or the pack cannot be released.
 */
export async function createRelease(
  { db, jobs }: Pick<AppDeps, 'db' | 'jobs'>,
  pack: Pack,
  { version, notes }: { version: string; notes: string },
): Promise<Release> {
  const { workspaceId, id: packId, coverBrushId } = pack
  const earlier = await listReleases(db, workspaceId, packId)
  const why = whyNoVersion(
    version,
    earlier.map((release) => release.version),
  )
  if (why) throw new Refusal('unfit', why)
  const frozen = await freeze(db, pack, version)
  const facts = { workspaceId, packId, version, notes, coverBrushId }
  const release = await insertRelease(db, { ...frozen, ...facts, state: 'building' })
  if (!release) throw new Refusal('clash', `Release ${version} exists already; choose a higher version.`)
  await buildAgain({ jobs }, pack, release)
  return release
}

/** Has a release's download built, for the first time or after that failed. */
export async function buildAgain(
  { jobs }: Pick<AppDeps, 'jobs'>,
  { title }: Pick<Pack, 'title'>,
  { workspaceId, id, version }: Pick<Release, 'workspaceId' | 'id' | 'version'>,
): Promise<void> {
  const payload = {}
  await jobs.add({ workspaceId, kind: 'build-release', subjectId: id, title: `Building ${title} ${version}`, payload })
}
