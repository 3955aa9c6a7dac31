import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { noteSecurity } from '../security-log.ts'
import type { SignedIn } from './context.ts'
import { ownerOnly } from './owner-only.ts'
import { valid } from './validate.ts'

const PEM_MAX_CHARS = 2000
const Imported = v.object({ pem: v.pipe(v.string(), v.maxLength(PEM_MAX_CHARS)) })

/** The keys by which a workspace signs its releases: everybody may know whose they are, the owner alone changes them. */
export const signingRoutes = ({ signing, log }: AppDeps) => {
  const note = (what: 'key exported' | 'key replaced', workspace: string, person: string) =>
    noteSecurity(log, what, { workspace, person })
  return new Hono<SignedIn>()
    .get('/', async (c) => c.json({ keys: await signing.list(c.get('workspaceId')) }))
    .post('/export', ownerOnly, async (c) => {
      const workspaceId = c.get('workspaceId')
      const pem = await signing.export(workspaceId)
      note('key exported', workspaceId, c.get('person').id)
      return c.json({ pem })
    })
    .post('/rotate', ownerOnly, async (c) => {
      const workspaceId = c.get('workspaceId')
      await signing.rotate(workspaceId)
      note('key replaced', workspaceId, c.get('person').id)
      return c.json({ keys: await signing.list(workspaceId) })
    })
    .post('/import', ownerOnly, valid('json', Imported), async (c) => {
      const workspaceId = c.get('workspaceId')
      await signing.import(workspaceId, c.req.valid('json').pem)
      note('key replaced', workspaceId, c.get('person').id)
      return c.json({ keys: await signing.list(workspaceId) })
    })
}
