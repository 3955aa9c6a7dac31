import { Hono } from 'hono'
import type { AppDeps } from '../app-deps.ts'
import { listCardsInUse, listCardsUnseen, loadRack, setCardSeen } from '../db/setup-cards.ts'
import { notFound, Problem } from '../errors.ts'
import { planOf, putCardBack } from '../library/setup-cards.ts'
import type { SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

/** How long it is told that a card was put back by itself. */
const TOLD_MS = 30 * 86_400_000

/** Setup cards that are laid out: what putting each back would do, and those that were put back by themselves. */
export const setupCardRoutes = ({ db, events }: AppDeps) => {
  const changed = async (workspaceId: string) => {
    await events.publish({ workspaceId, topic: 'library' })
    await events.publish({ workspaceId, topic: 'pockets' })
  }
  return new Hono<SignedIn>()
    .get('/', async (c) => {
      const workspaceId = c.get('workspaceId')
      const cards = await listCardsInUse(db, workspaceId)
      const unseen = await listCardsUnseen(db, workspaceId, new Date(Date.now() - TOLD_MS))
      const { names } = unseen.length > 0 ? await loadRack(db, workspaceId) : { names: new Map<string, string>() }
      return c.json({
        cards: await Promise.all(
          cards.map(async (card) => {
            const plan = await planOf(db, card)
            const named = (ids: readonly string[]) => ids.flatMap((id) => plan.names.get(id) ?? [])
            const { id, title, until, laidAt } = card
            return {
              ...{ id, title, until, laidAt },
              /** What putting it back would do now. */
              plan: {
                shows: named(plan.shows),
                putsAway: named(plan.putsAway),
                removes: plan.removes.length,
                kept: plan.kept,
              },
            }
          }),
        ),
        ended: unseen.map(({ id, title, putBackAt, putBack }) => ({
          ...{ id, title, putBackAt },
          shown: (putBack?.shows ?? []).flatMap((set) => names.get(set) ?? []),
          kept: putBack?.kept ?? 0,
        })),
      })
    })
    .post('/:id/put-back', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const done = await putCardBack(db, workspaceId, c.req.valid('param').id, { isSeen: true })
      if (!done) throw new Problem(409, 'This setup card was put back already; reload the page to see the rack.')
      await changed(workspaceId)
      return c.json({ shown: done.shows.length, putAway: done.putsAway.length, kept: done.kept })
    })
    .post('/:id/seen', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      if (!(await setCardSeen(db, workspaceId, c.req.valid('param').id))) throw notFound('setup card')
      await changed(workspaceId)
      return c.json({ ok: true })
    })
}
