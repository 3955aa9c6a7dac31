import type { AppDeps } from '../app-deps.ts'
import { countRoom, type RoomTaken } from '../db/room.ts'
import { inBytes, Refusal, workspaceFull } from '../errors.ts'
import { JOBS_WAITING_MAX } from '../queue/queue.ts'

/** What a workspace may take up at once, besides its bytes, which whoever runs the server says. */
export const ROOM_MAX = {
  /** Files that have come in part. */
  uploads: 100,
  /** What those will be together, bytes. */
  uploadBytes: 20 * 1024 ** 3,
  /** Links by which phones bring photographs. */
  phoneLinks: 5,
  /** Tasks that wait. */
  jobsWaiting: JOBS_WAITING_MAX,
} as const

export type Room = { [Part in keyof RoomTaken]: { taken: number; most: number } }
type Deps = Pick<AppDeps, 'db' | 'workspaceBytesMax'>

/** What a workspace takes up of what it may. */
export async function measureRoom({ db, workspaceBytesMax }: Deps, workspaceId: string): Promise<Room> {
  const taken = await countRoom(db, workspaceId)
  const most: RoomTaken = { bytes: workspaceBytesMax, ...ROOM_MAX }
  const parts = Object.keys(most) as (keyof RoomTaken)[]
  return Object.fromEntries(parts.map((part) => [part, { taken: taken[part], most: most[part] }])) as Room
}

/** @throws {Refusal} Where a file of so many bytes has no room. */
export async function checkRoomForFile(deps: Deps, workspaceId: string, sizeBytes: number): Promise<void> {
  const { bytes } = await measureRoom(deps, workspaceId)
  if (bytes.taken + sizeBytes > bytes.most) throw workspaceFull(bytes.taken, bytes.most)
}

/** @throws {Refusal} Where a file that comes in pieces has no room beside the others. */
export async function checkRoomForUpload(deps: Deps, workspaceId: string, sizeBytes: number): Promise<void> {
  const { bytes, uploads, uploadBytes } = await measureRoom(deps, workspaceId)
  if (uploads.taken >= uploads.most || uploadBytes.taken + sizeBytes > uploadBytes.most)
    throw new Refusal(
      'tooMuch',
      `Too many files have come in part: ${uploads.taken}, of ${inBytes(uploadBytes.taken)} together. Send those to their end, or let them go, before the next.`,
    )
  if (bytes.taken + sizeBytes > bytes.most) throw workspaceFull(bytes.taken, bytes.most)
}

/** @throws {Refusal} Where too many links for phones are open. */
export async function checkRoomForPhoneLink(deps: Deps, workspaceId: string): Promise<void> {
  const { phoneLinks } = await measureRoom(deps, workspaceId)
  if (phoneLinks.taken >= phoneLinks.most)
    throw new Refusal(
      'tooMuch',
      `${phoneLinks.taken} links for phones are open at once; close the dialogs of the others, or wait ten minutes.`,
    )
}
