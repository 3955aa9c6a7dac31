import { whyNoVersion } from '@satchel/core/releases/version'
import type { AppDeps } from '../app-deps.ts'
import { openSubject } from '../check-list/subject.ts'
import { listLetPass, setLooked } from '../db/check-list.ts'
import type { Pack } from '../db/packs.ts'
import { insertRelease, listReleases, type Release } from '../db/releases.ts'
import type { LetPass } from '../db/schema/all.ts'
import { Refusal } from '../errors.ts'
import { freeze } from './freeze.ts'

/**
 * Freezes a pack as it is into a release, and has its download built.
 * @throws {Refusal} If the version cannot be had, or the pack cannot be released.
 */
export async function createRelease(
  deps: AppDeps,
  pack: Pack,
  { version, notes }: { version: string; notes: string },
): Promise<Release> {
  const { db, jobs } = deps
  const { workspaceId, id: packId, coverBrushId, coverSha, cover } = pack
  const earlier = await listReleases(db, workspaceId, packId)
  const why = whyNoVersion(
    version,
    earlier.map((release) => release.version),
  )
  if (why) throw new Refusal('unfit', why)
  const frozen = await freeze(db, pack, version)
  const letPass = await checkReady(deps, pack)
  const coverBrushIds = [...new Set(cover?.strokes.map(({ brushId }) => brushId))]
  const facts = { workspaceId, packId, version, notes, coverBrushId, coverSha, coverBrushIds }
  const release = await insertRelease(db, { ...frozen, ...facts, letPass, state: 'building' })
  if (!release) throw new Refusal('clash', `Release ${version} exists already; choose a higher version.`)
  await setLooked(
    db,
    workspaceId,
    packId,
    frozen.versions.map(([brushId, looked]) => ({ brushId, looked })),
  )
  await buildAgain({ jobs }, pack, release)
  return release
}

/**
 * What the check list was told to let pass.
 * @throws {Refusal} Where something that stops a release was not.
 */
async function checkReady(deps: AppDeps, pack: Pack): Promise<LetPass[]> {
  const { subject, names } = await openSubject(deps, pack)
  const reasons = await listLetPass(deps.db, pack.workspaceId, pack.id)
  const findings = (await deps.workers.run('checkPack', subject)).map(({ brushId, ...finding }) => {
    const name = brushId === undefined ? undefined : names.get(brushId)
    return { ...finding, said: name === undefined ? finding.sentence : `${name}: ${finding.sentence}` }
  })
  const stops = findings.filter(({ weight, key }) => weight === 'stops' && !reasons.has(key))
  const [first] = stops
  if (first) {
    const more = stops.length === 1 ? '' : ` (and ${stops.length - 1} more)`
    throw new Refusal(
      'unfit',
      `The check list stops this release. ${first.said}${more} Mend it there, or let it pass with a reason.`,
    )
  }
  return findings.flatMap(({ key, said }) => {
    const reason = reasons.get(key)
    return reason === undefined ? [] : [{ finding: key, sentence: said, reason }]
  })
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
