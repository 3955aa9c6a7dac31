import type { Release } from '../db/releases.ts'
import { Refusal } from '../errors.ts'

/** That a release was taken back, and why. */
export const recalledSentence = ({ version, recallReason }: Pick<Release, 'version' | 'recallReason'>): string =>
  `Release ${version} was recalled: ${recallReason}`

/** Whoever would hand on what was taken back is told so. */
export const recalled = (release: Pick<Release, 'version' | 'recallReason'>): Refusal =>
  new Refusal('clash', `${recalledSentence(release)} Take another release.`)
