import { endOf } from '@satchel/core/editions/lessons'
import type { Db } from '../db/database.ts'
import { type Edition, findBuild, findBuildByKey, prepareEditions } from '../db/editions.ts'
import { findHandOutByToken, type HandOut } from '../db/hand-outs.ts'
import type { Release } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { Problem, recalledSentence } from '../errors.ts'
import { cutAt, cutRelease, type Given, isWhole, keyOfCut, wholeRelease, withBuild } from './edition-release.ts'
import { openLook } from './look-ahead.ts'
import { hashToken } from './token.ts'

/** A link's hand-out, with all of the release that it names. */
type Found = { handOut: HandOut; release: Release; edition: Edition | null; now?: Date }

export type Opened = {
  handOut: HandOut
  /** What it gives just now, and nothing that it does not. */
  release: Given
  edition: Edition | null
  /** The moment it is looked at. */
  now: Date
}

/** The hand-out behind a link that still works; otherwise says which way it is dead, and nothing about the pack. */
export async function openHandOut(deps: Pick<Deps, 'db' | 'links'>, token: string): Promise<Opened> {
  const { db } = deps
  const found: Found | undefined = (await openLook(deps, token)) ?? (await findHandOutByToken(db, hashToken(token)))
  if (!found)
    throw new Problem(
      404,
      'This link leads nowhere. Check that it was copied whole, or ask whoever sent it for a new one.',
    )
  const { handOut, release, edition, now = new Date() } = found
  if (handOut.withdrawnAt)
    throw new Problem(410, 'This hand-out has been withdrawn. Ask whoever sent it if you still need it.')
  if (handOut.endsAt && handOut.endsAt.getTime() <= now.getTime()) {
    throw new Problem(410, 'This hand-out has ended. Ask whoever sent it for a new link.')
  }
  const classEnds = edition?.plan.kit ? endOf(edition.plan.kit) : undefined
  if (classEnds && classEnds.getTime() <= now.getTime())
    throw new Problem(410, 'This class is over, and its link with it. Ask whoever sent it for a new one.')
  checkRecalled(release)
  return {
    handOut,
    edition,
    now,
    release: edition ? await editionOf(db, release, edition, now) : wholeRelease(release),
  }
}

/** What an edition gives of a release at a moment, with its download where that is built. */
async function editionOf(db: Db, release: Release, edition: Edition, now: Date): Promise<Given> {
  const cut = cutAt(edition.plan, release, now)
  if (isWhole(cut, release)) return { ...wholeRelease(release), notes: edition.plan.notes || release.notes }
  const build = await findBuildByKey(db, edition.workspaceId, edition.id, keyOfCut(cut, release))
  if (!build) await prepareEditions(db, edition.workspaceId, { id: edition.id })
  return withBuild(cutRelease(release, cut), build)
}

/** What a download of an edition was begun with; nothing where that is no more. */
export async function openBuild(db: Db, release: Release, buildId: string): Promise<Given | undefined> {
  const build = await findBuild(db, release.workspaceId, buildId)
  return build && withBuild(cutRelease(release, build.cut), build)
}

/** @throws {Problem} 410 where the release was recalled. */
export function checkRecalled(release: Release): void {
  if (release.recalledAt)
    throw new Problem(410, `${recalledSentence(release)} If you have it already, ask whoever sent it for another one.`)
}

export const usedUp = () =>
  new Problem(410, 'All downloads of this hand-out have been used. Ask whoever sent it for a new link.')

/** @throws {Problem} 410 where all its downloads are used. */
export function checkLeft({ downloadLimit, downloads }: HandOut): void {
  if (downloadLimit !== null && downloads >= downloadLimit) throw usedUp()
}
