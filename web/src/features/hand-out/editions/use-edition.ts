import { EditionPlan } from '@satchel/core/editions/plan'
import { Name } from '@satchel/core/forms/names'
import { useQueryClient } from '@tanstack/react-query'
import * as v from 'valibot'
import { useAhead } from '../../../ahead/use-ahead.ts'
import { changeEdition, type Edition, editionsQuery } from '../../../data/editions.ts'
import { useRefresh } from '../../../data/use-refresh.ts'

const Value = v.object({ name: Name, plan: EditionPlan })
export type EditionValue = v.InferOutput<typeof Value>

const ofServer = ({ name, plan, version }: Edition) => ({ value: { name, plan }, version })

/** An edition ahead of the server. It is saved by hand alone: whoever has it gets what is saved. */
export function useEdition(packId: string, edition: Edition) {
  const { id } = edition
  const refresh = useRefresh()
  const client = useQueryClient()
  const { queryKey } = editionsQuery(packId)
  const latest = () =>
    (client.getQueryData(queryKey)?.editions.find((each) => each.id === id) as Edition | undefined) ?? edition
  return useAhead<EditionValue>({
    key: `edition-${id}`,
    isByHand: true,
    server: ofServer(edition),
    known: () => ofServer(latest()),
    parse: (kept) => v.parse(Value, kept),
    async save(value, was) {
      const { version } = await changeEdition(id, { ...value, was })
      await refresh('pack')
      return { version }
    },
    refresh: () => refresh(queryKey),
  })
}
