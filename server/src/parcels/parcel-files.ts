import { mkdir, readdir, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { findKnownParcels, forgetOldParcels } from '../db/parcels.ts'
import type { Deps } from '../deps.ts'

const DAY_MS = 24 * 60 * 60 * 1000
/** How long a file waits to be fetched: it can be made again at any time. */
export const PARCEL_DAYS = 2
const EVERY_MS = 60 * 60 * 1000
const IS_ID = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/

export const parcelPath = (folder: string, id: string): string => join(folder, id)

/** Forgets parcels that nobody fetched for two days, and takes files away that belong to none. @returns How to stop looking. */
export function keepParcels({ db, log }: Pick<Deps, 'db' | 'log'>, folder: string): () => void {
  const look = async () => {
    await forgetOldParcels(db, new Date(Date.now() - PARCEL_DAYS * DAY_MS))
    await mkdir(folder, { recursive: true })
    const files = await readdir(folder)
    const known = await findKnownParcels(
      db,
      files.filter((name) => IS_ID.test(name)),
    )
    for (const name of files) if (!known.has(name)) await rm(join(folder, name), { force: true })
  }
  const run = () => void look().catch((error: Error) => log.error({ err: error }, 'taking old parcels away'))
  run()
  const timer = setInterval(run, EVERY_MS)
  return () => clearInterval(timer)
}
