import type { Order } from '../../data/fit.ts'

export const orderOf = (search: URLSearchParams): Order => ({
  by: search.get('by') ?? undefined,
  worst: search.get('worst') === '1',
  left: search.get('left') === '1',
  find: search.get('find') ?? '',
})

/** What is least alike first, then what is most, then by name again. */
export const nextSort = (order: Order, id: string): Record<string, string | undefined> => {
  if (order.by !== id) return { by: id, worst: '1' }
  return order.worst ? { by: id, worst: undefined } : { by: undefined, worst: undefined, left: undefined }
}
