import { useQueryClient } from '@tanstack/react-query'
import { plural } from '../../components/format.ts'
import { toast, toastError } from '../../components/toasts.tsx'
import { choosePocket, chosenPocket } from '../../data/chosen-pocket.ts'
import { createPocket, pinBrushes, pocketsQuery } from '../../data/pockets.ts'
import { useRefresh } from '../../data/use-refresh.ts'

const FIRST_NAME = 'Pocket'

/** Pins brushes to the pocket at hand; the first pin of all makes one. */
export function usePin(): (ids: string[]) => void {
  const refresh = useRefresh()
  const client = useQueryClient()
  const pin = async (ids: string[]) => {
    const { pockets } = await client.fetchQuery(pocketsQuery)
    const at = pockets.find((pocket) => pocket.id === chosenPocket()) ?? pockets[0]
    const id = at?.id ?? (await createPocket(FIRST_NAME)).id
    if (!at) choosePocket(id)
    await pinBrushes(id, ids)
    await refresh(pocketsQuery.queryKey)
    toast(`${plural(ids.length, 'brush', 'brushes')} pinned to "${at?.name ?? FIRST_NAME}".`)
  }
  return (ids) => void pin(ids).catch(toastError)
}
