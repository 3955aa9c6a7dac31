import type { InstallEntry } from '../../data/installs.ts'

/** The version that is newer than what an install is of. */
export const newerOf = ({ release }: Pick<InstallEntry, 'release'>): string | undefined =>
  release?.newest && release.newest !== release.version ? release.newest : undefined

/** What bringing an install up to date says that it does. */
export const bringingLabel = (install: Pick<InstallEntry, 'release'>): string => {
  const newer = newerOf(install)
  return newer === undefined ? 'Bring up to date' : `Bring up to ${newer}`
}
