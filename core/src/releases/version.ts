import semver from 'semver'
import { type Difference, isSame } from './difference.ts'

export const FIRST_VERSION = '1.0.0'

/** How far a release goes: something is gone or called otherwise; something is new; the rest. */
export type Step = 'large' | 'small' | 'mended'

/** The three numbers of a version, by what they count (semver.org 2.0.0, items 6 to 8). */
const RAISES = { large: 'major', small: 'minor', mended: 'patch' } as const satisfies Record<Step, semver.ReleaseType>

/** How far a difference goes for whoever has the release before it. */
export function stepOf({ brushes, sets }: Difference): Step {
  if (brushes.gone.length + brushes.renamed.length + sets.gone.length > 0) return 'large'
  return brushes.new.length + sets.new.length > 0 ? 'small' : 'mended'
}

/** The highest of some versions; undefined where there is none. */
export const highestOf = (versions: readonly string[]): string | undefined => semver.rsort([...versions])[0]

/**
 * The version that comes next.
 * @param difference From the release before it; without one, something is new.
 */
export function proposeVersion(earlier: readonly string[], difference: Difference | undefined): string {
  const highest = highestOf(earlier)
  if (!highest) return FIRST_VERSION
  return semver.inc(highest, RAISES[difference ? stepOf(difference) : 'small']) ?? FIRST_VERSION
}

/** Why a version cannot be had, in a sentence; undefined where it can. */
export function whyNoVersion(version: string, earlier: readonly string[]): string | undefined {
  if (semver.valid(version) !== version) return `"${version}" is no semantic version; write it like 1.2.0.`
  const highest = highestOf(earlier)
  if (highest && !semver.gt(version, highest))
    return `${version} is not above ${highest}, the latest release; choose a higher version.`
  return undefined
}

const WHY: Record<Step, string> = {
  large: 'something is gone or renamed',
  small: 'something is new',
  mended: 'nothing is gone, renamed or new',
}

/** Why a step as large as this was proposed, in a few words. */
export const whyStep = (difference: Difference): string =>
  isSame(difference) ? 'nothing differs from the last release' : WHY[stepOf(difference)]

/** Whether it is a version at all, like 1.2.0. */
export const isVersion = (text: string): boolean => semver.valid(text) === text

/** Whether a release came before another one; where one of them is no semantic version, that is not known. */
export const isOlder = (version: string, than: string): boolean =>
  semver.valid(version) !== null && semver.valid(than) !== null && semver.lt(version, than)
