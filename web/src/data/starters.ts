import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'
import { setsQuery } from './sets.ts'

/** A brush of the starter library that an empty place shows, by its set and its place there. */
const EXAMPLES = {
  library: { set: 'lines', at: 2 },
  set: { set: 'shapes that scatter', at: 0 },
  bin: { set: 'lines', at: 7 },
  pocket: { set: 'lines', at: 0 },
  tune: { set: 'shapes that scatter', at: 3 },
  strip: { set: 'take away and lay along', at: 6 },
  pack: { set: 'bristle and grain', at: 0 },
} as const

/** The example of an empty place; null where the workspace has no starter library. */
export const exampleQuery = (of: keyof typeof EXAMPLES) =>
  queryOptions({
    queryKey: ['brushes', 'example', of],
    queryFn: async ({ client }) => {
      const { set, at } = EXAMPLES[of]
      const { sets } = await client.fetchQuery(setsQuery)
      const found = sets.find(({ starter, name }) => starter && name.endsWith(set))
      if (!found) return null
      const query = { setId: found.id, sort: 'set', from: String(at), limit: '1' } as const
      return (await read(api.brushes.$get({ query }))).brushes[0] ?? null
    },
  })
