import { setTimeout as sleep } from 'node:timers/promises'
import { NewWorkspace } from '@satchel/core/forms/members'
import { Line } from '@satchel/core/forms/names'
import { Hono } from 'hono'
import { streamSSE } from 'hono/streaming'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { countTaken } from '../db/gather-lines.ts'
import { findOpenGather } from '../db/gathers.ts'
import { countOut } from '../db/hand-outs.ts'
import { countBrushes } from '../db/list-brushes.ts'
import { findFacts, hideStarters, isStarterHidden, renameWorkspace, saveFacts } from '../db/members.ts'
import { countLooseEnds } from '../fit/loose-ends.ts'
import { measureRoom } from '../library/room.ts'
import { identify } from '../people/identify.ts'
import type { SignedIn } from './context.ts'
import { about } from './noted.ts'
import { ownerOnly } from './owner-only.ts'
import { valid } from './validate.ts'

const PING_MS = 20_000

/** The live numbers under the stages, and the stream of what changes. */
export const workspaceRoutes = ({ auth, db, pool, events, log, stopping, workspaceBytesMax, ...deps }: AppDeps) =>
  new Hono<SignedIn>()
    .get('/tally', async (c) => {
      const workspaceId = c.get('workspaceId')
      const gather = await findOpenGather(db, workspaceId)
      const [waiting, brushes, out, loose] = await Promise.all([
        gather ? countTaken(db, workspaceId, gather.id) : 0,
        countBrushes(pool, workspaceId, {}),
        countOut(db, workspaceId),
        countLooseEnds({ db, pool, events, log, ...deps }, workspaceId),
      ])
      return c.json({ waiting, brushes, out, loose, starterHidden: await isStarterHidden(db, workspaceId) })
    })
    .get('/room', async (c) => c.json(await measureRoom({ db, workspaceBytesMax }, c.get('workspaceId'))))
    .patch('/', valid('json', v.object({ starterHidden: v.boolean() })), async (c) => {
      const { starterHidden } = c.req.valid('json')
      await hideStarters(db, c.get('workspaceId'), starterHidden)
      await events.publish({ workspaceId: c.get('workspaceId'), topic: 'library' })
      return c.json({ starterHidden })
    })
    .put('/name', ownerOnly, valid('json', NewWorkspace), async (c) => {
      const { name } = c.req.valid('json')
      about(c, `${c.get('workspaceName')} to ${name}`)
      await renameWorkspace(db, c.get('workspaceId'), name)
      await events.publish({ workspaceId: c.get('workspaceId'), topic: 'members' })
      return c.json({ was: c.get('workspaceName') })
    })
    .get('/facts', async (c) => c.json(await findFacts(db, c.get('workspaceId'))))
    .put('/facts', valid('json', v.object({ maker: Line, licence: Line })), async (c) => {
      const facts = c.req.valid('json')
      await saveFacts(db, c.get('workspaceId'), facts)
      return c.json(facts)
    })
    .get('/events', (c) =>
      streamSSE(c, async (stream) => {
        const hello = () =>
          stream.writeSSE({ event: 'hello', data: JSON.stringify({ workspaceId: c.get('workspaceId') }) })
        const stop = events.subscribe(
          c.get('workspaceId'),
          ({ topic, id }) => void stream.writeSSE({ event: topic, data: JSON.stringify({ id: id ?? null }) }),
          () => void hello(), // a page that hears it again takes everything anew
        )
        const ended = new AbortController()
        const unlisten = events.onSessionEnd(c.get('sessionId'), () => ended.abort())
        const over = AbortSignal.any([stopping, ended.signal])
        stream.onAbort(() => ended.abort())
        // who has signed out, or works in another workspace by now; a database that is away for a moment ends no stream
        const isStill = async () => {
          const found = await identify({ auth, db, events, log }, c.req.raw.headers)
          return found !== undefined && 'who' in found && found.who.workspaceId === c.get('workspaceId')
        }
        try {
          await hello()
          while (!stream.aborted && !stream.closed) {
            const isOver = await sleep(PING_MS, false, { signal: over }).catch(() => true)
            if (isOver || !(await isStill().catch(() => true))) break
            await stream.writeSSE({ event: 'ping', data: '{}' })
          }
        } finally {
          unlisten()
          stop()
        }
      }),
    )
