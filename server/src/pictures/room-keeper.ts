import { LRUCache } from 'lru-cache'
import type { Db } from '../db/database.ts'
import { countStored } from '../db/room.ts'
import { workspaceFull } from '../errors.ts'

/** What a workspace holds is counted anew when it was last counted so long ago; in between, what is stored is added. */
const COUNTED_FOR_MS = 5_000
const WORKSPACES_MOST = 1_000

/** Keeps what is stored in a workspace within what it may hold, whoever stores it: a request, or a job. */
export class RoomKeeper {
  readonly #bytesMost: number
  readonly #held = new LRUCache<string, { bytes: number }>({ max: WORKSPACES_MOST, ttl: COUNTED_FOR_MS })

  constructor(bytesMost: number) {
    this.#bytesMost = bytesMost
  }

  /** Takes room for so many bytes. @throws {Refusal} Where there is none. */
  async take(db: Db, workspaceId: string, sizeBytes: number): Promise<void> {
    if (this.#bytesMost === Number.POSITIVE_INFINITY) return
    let held = this.#held.get(workspaceId)
    // much may have gone since it was counted
    if (!held || held.bytes + sizeBytes > this.#bytesMost) {
      held = { bytes: await countStored(db, workspaceId) }
      this.#held.set(workspaceId, held)
    }
    if (held.bytes + sizeBytes > this.#bytesMost) throw workspaceFull(held.bytes, this.#bytesMost)
    held.bytes += sizeBytes
  }
}
