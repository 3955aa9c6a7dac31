import type { InstallEntry } from '../../data/installs.ts'

/** The version that takes the place of what an install is of: a newer one, or the last that was not recalled. */
export const newerOf = ({ release }: Pick<InstallEntry, 'release'>): string | undefined =>
  release?.newest && release.newest !== release.version ? release.newest : undefined

/** What bringing an install up to date says that it does. */
export const bringingLabel = (install: Pick<InstallEntry, 'release'>): string => {
  const newer = newerOf(install)
  if (newer === undefined) return 'Bring up to date'
  // what was recalled may have nothing newer: then the last good one is older
  return install.release?.recalled === null ? `Bring up to ${newer}` : `Go to ${newer}`
}
