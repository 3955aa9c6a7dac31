import semver from 'semver'
import { Refusal } from '../errors.ts'

const FIRST_VERSION = '1.0.0'

/** The version that would come next: a minor step above the highest. */
export function nextVersion(earlier: readonly string[]): string {
  const [highest] = semver.rsort([...earlier])
  return highest ? (semver.inc(highest, 'minor') ?? FIRST_VERSION) : FIRST_VERSION
}

/**
 * Checks the version of a release to be.
 * @throws {Refusal} If it is no semantic version, or not above all earlier ones.
 */
export function checkVersion(version: string, earlier: readonly string[]): void {
  if (semver.valid(version) !== version)
    throw new Refusal('unfit', `"${version}" is no semantic version; write it like 1.2.0.`)
  const [highest] = semver.rsort([...earlier])
  if (highest && !semver.gt(version, highest))
    throw new Refusal('unfit', `${version} is not above ${highest}, the latest release; choose a higher version.`)
}
