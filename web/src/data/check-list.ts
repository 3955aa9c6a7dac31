import type { Mend } from '@satchel/core/check-list/rules'
import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

/** What the check list has to say of a pack as it is now, as far as its brushes were looked at. */
export const checkQuery = (packId: string) =>
  queryOptions({
    queryKey: ['pack', packId, 'check'],
    queryFn: () => read(api.packs[':id'].check.$get({ param: { id: packId } })),
  })
export type Check = Awaited<ReturnType<NonNullable<ReturnType<typeof checkQuery>['queryFn']>>>
export type Finding = Check['findings'][number]

export const startCheck = (packId: string) => read(api.packs[':id'].check.$post({ param: { id: packId } }))
/** @param reason Without one the findings are looked at again. */
export const letPass = (packId: string, findings: string[], reason: string | null) =>
  read(api.packs[':id'].check.pass.$put({ param: { id: packId }, json: { findings, reason } }))

const mendSome = (packId: string, mend: Mend, brushIds: string[]) =>
  read(api.packs[':id'].check.mend.$post({ param: { id: packId }, json: { mend, brushIds } }))
export type Mending = Awaited<ReturnType<typeof mendSome>>
export const undoMending = (packId: string, mended: Mending['mended']) =>
  read(api.packs[':id'].check.undo.$post({ param: { id: packId }, json: { mended } }))

/** The server takes so many at once. */
const AT_ONCE = 10

/**
 * Mends findings of one kind, a few brushes after a few, until all are done or it is stopped.
 * @param tell Told how many are through.
 * @returns What was done, also where it broke off after that: it can be undone.
 */
export async function mendAll(
  packId: string,
  { mend, brushIds }: { mend: Mend; brushIds: readonly string[] },
  { tell, signal }: { tell: (done: number) => void; signal: AbortSignal },
): Promise<Mending & { failed?: unknown }> {
  const all: Mending = { mended: [], refused: [] }
  for (let at = 0; at < brushIds.length && !signal.aborted; at += AT_ONCE) {
    try {
      const { mended, refused } = await mendSome(packId, mend, brushIds.slice(at, at + AT_ONCE))
      all.mended.push(...mended)
      all.refused.push(...refused)
    } catch (failed) {
      return { ...all, failed }
    }
    tell(Math.min(brushIds.length, at + AT_ONCE))
  }
  return all
}
