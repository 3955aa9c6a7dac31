import type { HttpBindings } from '@hono/node-server'
import { LimitError } from '@satchel/core/errors'
import { toOneLine } from '@satchel/core/formats/text'
import { ENTRY_MEMORY_MAX_BYTES, NAME_MAX_CHARS } from '@satchel/core/limits'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { askAs } from '../asking.ts'
import type { Db } from '../db/database.ts'
import { openGather } from '../db/gathers.ts'
import {
  countPhotograph,
  findPhoneLink,
  findPhoneLinkByToken,
  holdPhoneLink,
  type PhoneLink,
} from '../db/phone-links.ts'
import { Problem } from '../errors.ts'
import { takeFile } from '../gather/take-file.ts'
import { createToken, hashToken } from '../hand-out/token.ts'
import { checkRoomForFile } from '../library/room.ts'
import { noteSecurity } from '../security-log.ts'
import { bodyOf } from './body.ts'
import { PATH_MAX_CHARS, valid } from './validate.ts'

const PHOTOGRAPHS_MAX = 100
const FOLDER = 'From a phone'

const Secret = v.pipe(v.string(), v.minLength(1), v.maxLength(100))
const Token = v.object({ token: Secret })
const Held = v.object({ holder: v.optional(Secret) })
const Photograph = v.object({ name: v.pipe(v.string(), v.maxLength(PATH_MAX_CHARS)) })
const ByHolder = v.object({ 'x-holder': Secret })

/** What a phone with a link may do: open it once, and bring photographs until it ends. No account, and nothing else. */
export const phonePageRoutes = (deps: AppDeps) => {
  const { db, events } = deps
  return new Hono<{ Bindings: HttpBindings }>()
    .use('/:token/*', async (c, next) => {
      await deps.limits.takeLink(c.req.param('token'))
      await next()
    })
    .post('/:token', valid('param', Token), valid('json', Held), async (c) => {
      const { link, workspace } = await openLink(deps, c.req.valid('param').token)
      const holder = c.req.valid('json').holder ?? createToken()
      const facts = { workspace: link.workspaceId, address: deps.clientAddress(c.env?.incoming) }
      if (!(await holdPhoneLink(db, link, hashToken(holder)))) {
        noteSecurity(deps.log, 'link refused', facts)
        throw heldElsewhere()
      }
      noteSecurity(deps.log, 'link used', facts)
      await events.publish({ workspaceId: link.workspaceId, topic: 'gather' })
      return c.json({ holder, workspace, endsAt: link.endsAt })
    })
    .put(
      '/:token/photographs',
      valid('param', Token),
      valid('query', Photograph),
      valid('header', ByHolder),
      async (c) => {
        const { link } = await openLink(deps, c.req.valid('param').token)
        const { name } = c.req.valid('query')
        if (link.holderHash !== hashToken(c.req.valid('header')['x-holder'])) throw heldElsewhere()
        const said = toOneLine(name.replace(/^.*[\\/]/, ''), NAME_MAX_CHARS) || 'photograph'
        if (Number(c.req.header('content-length') ?? 0) > ENTRY_MEMORY_MAX_BYTES) throw tooLarge(said)
        if (link.photographs >= PHOTOGRAPHS_MAX) throw enough()
        await checkRoomForFile(deps, link.workspaceId, Number(c.req.header('content-length') ?? 0))
        const photographs = await askAs({ workspaceId: link.workspaceId, signal: c.req.raw.signal }, () =>
          take(link, c, said),
        )
        return c.json({ photographs }, 201)
      },
    )

  /** Takes a photograph in. It counts, and comes in, only when all of it has come while the link was still open. */
  async function take(link: PhoneLink, asked: Parameters<typeof bodyOf>[0], said: string): Promise<number> {
    const { workspaceId } = link
    const { id: gatherId } = await openGather(db, workspaceId)
    let place: number | undefined
    const admit = async (tx: Db) => {
      place = await countPhotograph(tx, link, PHOTOGRAPHS_MAX)
      return place === undefined ? undefined : `${FOLDER}/${place} ${said}`
    }
    const file = await takeFile(deps, { workspaceId, gatherId, admit }, bodyOf(asked), ENTRY_MEMORY_MAX_BYTES).catch(
      (error: unknown) => {
        throw error instanceof LimitError ? tooLarge(said) : error
      },
    )
    if (file && place !== undefined) return place
    if (place !== undefined) throw new Problem(409, `The ledger was closed while "${said}" came; send it again.`)
    const now = await findPhoneLink(db, workspaceId, link.id)
    throw now && now.endsAt.getTime() > Date.now() ? enough() : ended()
  }
}

async function openLink({ db }: Pick<AppDeps, 'db'>, token: string) {
  const found = await findPhoneLinkByToken(db, hashToken(token))
  if (!found)
    throw new Problem(404, 'This link leads nowhere. Make a new one on the computer and point the camera at it.')
  if (found.link.endsAt.getTime() <= Date.now()) throw ended()
  return found
}

const ended = () => new Problem(410, 'This link has ended. Make a new one on the computer and point the camera at it.')

const enough = () =>
  new Problem(409, `${PHOTOGRAPHS_MAX} photographs came through this link; make another one for more.`)

const heldElsewhere = () =>
  new Problem(410, 'This link was opened before, in another place. Make a new one on the computer for this phone.')

const tooLarge = (name: string) =>
  new Problem(413, `"${name}" is larger than ${ENTRY_MEMORY_MAX_BYTES / 1024 ** 2} MiB; take it smaller.`)
