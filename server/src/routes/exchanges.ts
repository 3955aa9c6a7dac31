import { ItemId, LISTED_BRUSHES, NEXT_MAX_CHARS } from '@satchel/core/exchange/protocol'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { listPublished, listTakenThere } from '../db/exchanges.ts'
import { findPack } from '../db/packs.ts'
import { findRelease } from '../db/releases.ts'
import { listKeptMarks } from '../db/stroke-looks.ts'
import { notFound, Problem } from '../errors.ts'
import { Exchange, findExchange, PICTURE_MAX_BYTES } from '../exchanges/ask.ts'
import { findAlikeHere, findExact } from '../exchanges/find-here.ts'
import { listNewerThere, lookForNewer } from '../exchanges/newer.ts'
import { withdraw } from '../exchanges/publish.ts'
import { takeFromExchange } from '../exchanges/take.ts'
import type { SignedIn } from './context.ts'
import { about } from './noted.ts'
import { Id, valid } from './validate.ts'

const Host = v.pipe(v.string(), v.maxLength(260))
const OfExchange = v.object({ host: Host })
const OfItem = v.object({ host: Host, item: ItemId })
const OfBrush = v.object({ ...OfItem.entries, brushId: v.pipe(v.string(), v.maxLength(2 * NAME_MAX_CHARS)) })
/** A path at an exchange; the exchange has said it before, and says what is there. */
const Path = v.pipe(v.string(), v.maxLength(400), v.regex(/^\/(?!\/)/, 'a path of the exchange'))
const Find = v.object({
  q: v.optional(v.pipe(v.string(), v.maxLength(200)), ''),
  maker: v.optional(v.pipe(v.string(), v.maxLength(200)), ''),
  /** A brush of the library that is to be looked like. */
  like: v.optional(v.pipe(v.string(), v.uuid())),
  /** The next page, as the exchange has named it. */
  next: v.optional(v.pipe(v.string(), v.maxLength(NEXT_MAX_CHARS), v.regex(/^\/(?!\/)/, 'a path of the exchange'))),
})
const Take = v.object({
  version: v.pipe(v.string(), v.maxLength(40)),
  only: v.nullable(
    v.pipe(v.array(v.pipe(v.string(), v.maxLength(2 * NAME_MAX_CHARS))), v.minLength(1), v.maxLength(500)),
  ),
})
const Text = v.pipe(v.string(), v.maxLength(2_000))
const Publish = v.object({
  releaseId: v.pipe(v.string(), v.uuid()),
  host: Host,
  about: Text,
  notes: Text,
  tags: v.pipe(
    v.array(v.pipe(v.string(), v.maxLength(NAME_MAX_CHARS), v.regex(/^[^,]*$/, 'no comma'))),
    v.maxLength(30),
  ),
})

/** Exchanges, where makers share releases with strangers: looked through, taken from, given to. All that they say is held to schemas first. */
export const exchangeRoutes = (deps: AppDeps) => {
  const { db, exchanges, events, jobs } = deps
  const at = (host: string) => new Exchange(findExchange(exchanges, host), deps)
  const openItem = async (host: string, item: string) => {
    const there = at(host)
    const card = await there.ask('/exchange.json', 'card')
    return { there, card, page: await there.ask(`${card.items}/${item}.json`, 'item') }
  }
  return (
    new Hono<SignedIn>()
      .get('/', async (c) =>
        c.json({
          exchanges: exchanges.map((origin) => ({ host: new URL(origin).host, page: origin })),
          newer: await listNewerThere(deps, c.get('workspaceId')),
        }),
      )
      // what exchanges have of packs that came from them
      .post('/look', async (c) => {
        const workspaceId = c.get('workspaceId')
        await lookForNewer(deps, workspaceId)
        return c.json({ newer: await listNewerThere(deps, workspaceId) })
      })
      .post('/publish', valid('json', Publish), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { releaseId, ...payload } = c.req.valid('json')
        const release = await findRelease(db, workspaceId, releaseId)
        if (!release) throw notFound('release')
        findExchange(exchanges, payload.host)
        if (release.state !== 'ready' || release.recalledAt)
          throw new Problem(409, 'Only a release that is built, and was not recalled, can be published.')
        if (release.brushes.length > LISTED_BRUSHES)
          throw new Problem(422, `This release has ${release.brushes.length.toLocaleString('en')} brushes, and an exchange lists ${LISTED_BRUSHES} of a pack at most; publish a smaller pack.`) // biome-ignore format: one sentence
        const title = `Publishing ${release.version} at ${payload.host}`
        const { id: jobId } = await jobs.add({
          workspaceId,
          kind: 'publish-release',
          subjectId: releaseId,
          title,
          payload,
        })
        about(c, `${release.version} at ${payload.host}`)
        return c.json({ jobId }, 202)
      })
      .get('/published-of/:id', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await findPack(db, workspaceId, id))) throw notFound('pack')
        return c.json({ published: await listPublished(db, workspaceId, id) })
      })
      .post('/published/:id/withdraw', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const title = await withdraw(deps, workspaceId, c.req.valid('param').id)
        if (title === undefined) throw notFound('published release')
        about(c, title)
        await events.publish({ workspaceId, topic: 'packs' })
        return c.json({ ok: true })
      })
      .post('/:host/find', valid('param', OfExchange), valid('json', Find), async (c) => {
        const { q, maker, like, next } = c.req.valid('json')
        const there = at(c.req.valid('param').host)
        const card = await there.ask('/exchange.json', 'card')
        const path = next ?? (like ? `${card.like}?${new URLSearchParams({ mark: await markOf(c.get('workspaceId'), like) })}` : `${card.feed}?${new URLSearchParams({ q, maker })}`) // biome-ignore format: one path
        const [feed, taken] = [await there.ask(path, 'feed'), await listTakenThere(db, c.get('workspaceId'))]
        const had = new Map(taken.flatMap(({ exchange, release }) => exchange?.host === there.host ? [[exchange.item, release] as const] : [])) // biome-ignore format: one map
        return c.json({
          title: card.title,
          description: card.description,
          next: feed.next_url ?? null,
          items: feed.items.map(({ id, title, summary, content_text, authors, tags, date_modified, _satchel }) => ({
            ...{
              id,
              title,
              about: summary || content_text,
              maker: authors[0]?.name ?? '',
              tags,
              changedAt: date_modified,
            },
            ...{
              version: _satchel.version,
              licence: _satchel.licence,
              brushes: _satchel.brushes,
              strokes: _satchel.strokes,
            },
            /** Which release of it is here. */
            had: had.get(id) ?? null,
          })),
        })
      })
      .post('/:host/items/:item', valid('param', OfItem), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { host, item } = c.req.valid('param')
        const { card, page } = await openItem(host, item)
        const { title, summary, content_text, authors, tags, _satchel } = page
        const here = new Map((await findExact(db, workspaceId, _satchel.list)).map(({ id, ...rest }) => [id, rest]))
        const taken = (await listTakenThere(db, workspaceId)).find(
          ({ exchange }) => exchange?.host === host && exchange.item === item,
        )
        return c.json({
          ...{
            exchange: card.title,
            id: item,
            title,
            about: content_text || summary,
            maker: authors[0]?.name ?? '',
            tags,
          },
          ...{ version: _satchel.version, licence: _satchel.licence, signer: _satchel.signer },
          had: taken?.release ?? null,
          releases: _satchel.releases.map(({ version, date, notes, sizeBytes }) => ({
            version,
            date,
            notes,
            sizeBytes,
          })),
          brushes: _satchel.list.map(({ id, name, maker, licence, tags, recipe, frames, stroke }) => ({
            ...{ id, name, maker, licence, tags, stroke, frames: frames.length, sizePx: recipe.mark.sizePx },
            /** The brush of the library that has just its pixels. */
            here: here.get(id) ?? null,
          })),
        })
      })
      // which of the others look like what is here: all of a library is looked through for that, so it is asked apart
      .post('/:host/items/:item/alike', valid('param', OfItem), async (c) => {
        const { host, item } = c.req.valid('param')
        const { page } = await openItem(host, item)
        return c.json({ alike: await findAlikeHere(deps, c.get('workspaceId'), page._satchel.list) })
      })
      .post('/:host/items/:item/take', valid('param', OfItem), valid('json', Take), async (c) => {
        const { host, item } = c.req.valid('param')
        const wish = { item, ...c.req.valid('json') }
        return c.json({ id: await takeFromExchange(deps, c.get('workspaceId'), at(host), wish) }, 201)
      })
      // all that painting with it takes, before anything is taken: its recipe, its frames in their order, its grain
      .get('/:host/items/:item/brushes/:brushId', valid('param', OfBrush), async (c) => {
        const { host, item, brushId } = c.req.valid('param')
        const { there, page } = await openItem(host, item)
        const brush = page._satchel.list.find(({ id }) => id === brushId)
        if (!brush) throw notFound('brush')
        const form = new FormData()
        form.set('recipe', JSON.stringify(brush.recipe))
        let left = PICTURE_MAX_BYTES
        const add = async (name: 'frame' | 'grain', path: string) => {
          const png = await there.picture(path)
          left -= png.length
          if (left < 0) throw new Problem(413, 'This brush is too large to be tried here; take it to try it.')
          form.append(name, new Blob([new Uint8Array(png)], { type: 'image/png' }), `${name}.png`)
        }
        for (const { path } of brush.frames) await add('frame', path)
        if (brush.grain) await add('grain', brush.grain.path)
        const answer = new Response(form)
        answer.headers.set('cache-control', 'private, no-store')
        return answer
      })
      .get('/:host/picture', valid('param', OfExchange), valid('query', v.object({ path: Path })), async (c) => {
        const png = await at(c.req.valid('param').host).picture(c.req.valid('query').path)
        return c.body(new Uint8Array(png), 200, {
          'content-type': 'image/png',
          'cache-control': 'private, max-age=600',
        })
      })
  )

  async function markOf(workspaceId: string, brushId: string): Promise<string> {
    const [kept] = await listKeptMarks(db, workspaceId, [brushId])
    if (!kept || kept.mark.length === 0)
      throw new Problem(422, 'This brush has no mark that could be looked for; choose another one.')
    return Buffer.from(kept.mark).toString('base64url')
  }
}
