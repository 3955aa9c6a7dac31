import { createReadStream } from 'node:fs'
import { Readable } from 'node:stream'
import { LimitError } from '@satchel/core/errors'
import { toOneLine } from '@satchel/core/formats/text'
import { Name } from '@satchel/core/forms/names'
import { FileShaText } from '@satchel/core/hashes'
import { ENTRY_MEMORY_MAX_BYTES, NAME_MAX_CHARS } from '@satchel/core/limits'
import { parsePlan } from '@satchel/core/make/parse-plan'
import { WAY_NAMES, type Way } from '@satchel/core/make/ways'
import { Written } from '@satchel/core/make/written'
import { type Context, Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import { addSource, binSource, changeSource, findSource, listMade, listSources, renameSource } from '../db/sources.ts'
import { notFound, Problem } from '../errors.ts'
import { checkRoomForFile } from '../library/room.ts'
import { sourceFromLine, sourceFromPicture, takeFile } from '../make/take-source.ts'
import { PREVIEW_SIDES_PX } from '../pictures/picture-sizes.ts'
import { sourcePicture } from '../pictures/renders.ts'
import { bodyOf } from './body.ts'
import { immutableHeaders, immutablePng, type SignedIn } from './context.ts'
import { Count, Id, PATH_MAX_CHARS, valid } from './validate.ts'

const WayOf = v.optional(v.picklist(WAY_NAMES), 'picture')
const FileName = v.pipe(v.string(), v.nonEmpty('the file needs a name'), v.maxLength(PATH_MAX_CHARS))
/** Words that the file is a picture of, as JSON. */
const WrittenText = v.optional(v.pipe(v.string(), v.maxLength(2000), v.parseJson(), Written))
const NewFile = v.object({ name: FileName, way: WayOf, written: WrittenText })
const AnotherFile = v.object({
  name: FileName,
  written: WrittenText,
  from: v.pipe(v.string(), v.transform(Number), Count),
})
const OfPicture = v.object({ blobSha: FileShaText, name: Name, way: WayOf })
const OfLine = v.object({ lineId: v.pipe(v.string(), v.uuid()) })
const Change = v.object({ plan: v.unknown(), from: Count })
const Preview = v.object({
  side: v.optional(v.pipe(v.string(), v.transform(Number), v.picklist(PREVIEW_SIDES_PX)), '1600'),
  /** Which file the page means: the picture never changes under it. */
  sha: v.optional(FileShaText),
})
const Bin = v.object({ bin: v.optional(v.literal('1')) })

/** What tips are made from: files with the steps that make something of them. */
export const sourceRoutes = (deps: AppDeps) => {
  const { db, blobs, events, jobs } = deps
  const changed = (workspaceId: string, id: string) => events.publish({ workspaceId, topic: 'sources', id })

  /** Takes what is sent as the file of a source. @throws {Problem} If it is too large; nothing is kept then. */
  const take = async (c: Context<SignedIn>, name: string, way: Way) => {
    const workspaceId = c.get('workspaceId')
    const said = Number(c.req.raw.headers.get('content-length') ?? 0)
    if (said > ENTRY_MEMORY_MAX_BYTES) throw tooLarge(name)
    await checkRoomForFile(deps, workspaceId, said)
    try {
      return await takeFile(deps, workspaceId, { bytes: bodyOf(c), name, way })
    } catch (error) {
      throw error instanceof LimitError ? tooLarge(name) : error
    }
  }
  const findHere = async (workspaceId: string, id: string) => {
    const source = await findSource(db, workspaceId, id)
    if (!source) throw notFound('source')
    return source
  }

  return new Hono<SignedIn>()
    .get('/', valid('query', Bin), async (c) =>
      c.json({ sources: await listSources(db, c.get('workspaceId'), { bin: c.req.valid('query').bin === '1' }) }),
    )
    .post('/', valid('query', NewFile), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { name, way, written } = c.req.valid('query')
      const { opened, file } = await take(c, name, way)
      const source = await addSource(db, {
        workspaceId,
        name: nameFrom(opened.name ?? name),
        file: { ...file, ...(written && { written }) },
        plan: opened.plan,
      })
      await changed(workspaceId, source.id)
      return c.json({ id: source.id }, 201)
    })
    .post('/from-picture', valid('json', OfPicture), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { blobSha, name, way } = c.req.valid('json')
      const source = await sourceFromPicture(deps, workspaceId, { blobSha, name, way })
      await changed(workspaceId, source.id)
      return c.json({ id: source.id }, 201)
    })
    .post('/from-line', valid('json', OfLine), async (c) => {
      const workspaceId = c.get('workspaceId')
      const source = await sourceFromLine(deps, workspaceId, c.req.valid('json').lineId)
      await changed(workspaceId, source.id)
      return c.json({ id: source.id }, 201)
    })
    .get('/:id', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const source = await findHere(workspaceId, c.req.valid('param').id)
      const made = await listMade(db, workspaceId, source.id)
      const { id, name, file, plan, revision, deletedAt } = source
      return c.json({ id, name, file, plan, revision, made, isBinned: deletedAt !== null })
    })
    .patch('/:id', valid('param', Id), valid('json', v.object({ name: Name })), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      if (!(await renameSource(db, workspaceId, id, c.req.valid('json').name))) throw notFound('source')
      await changed(workspaceId, id)
      return c.json({ ok: true })
    })
    .put('/:id/plan', valid('param', Id), valid('json', Change), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const { plan, from } = c.req.valid('json')
      const revision = await changeSource(db, workspaceId, id, { plan: parsePlan(plan), from })
      if (revision === undefined) throw movedOn()
      await changed(workspaceId, id)
      return c.json({ revision })
    })
    .put('/:id/file', valid('param', Id), valid('query', AnotherFile), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const { name, from, written } = c.req.valid('query')
      const source = await findHere(workspaceId, id)
      const taken = await take(c, name, source.plan.way)
      const file = { ...taken.file, ...(written && { written }) }
      const revision = await changeSource(db, workspaceId, id, { file, from })
      await deleteOrphanBlobs(db, workspaceId, [revision === undefined ? file.blobSha : source.file.blobSha])
      if (revision === undefined) throw movedOn()
      await changed(workspaceId, id)
      return c.json({ revision, file })
    })
    .get('/:id/preview.png', valid('param', Id), valid('query', Preview), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { side, sha } = c.req.valid('query')
      const { file } = await findHere(workspaceId, c.req.valid('param').id)
      if (sha !== undefined && sha !== file.blobSha) throw notFound('picture of this source')
      const { key, png } = await sourcePicture(deps, workspaceId, { blobSha: file.blobSha, sidePx: side })
      return immutablePng(c, key, png)
    })
    .get('/:id/file', valid('param', Id), valid('query', v.object({ sha: FileShaText })), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { sha } = c.req.valid('query')
      const { file } = await findHere(workspaceId, c.req.valid('param').id)
      const stored = sha === file.blobSha && (await blobs.find(db, workspaceId, sha))
      if (!stored) throw notFound('file of this source')
      const { headers, isFresh } = immutableHeaders(c, sha)
      if (isFresh) return c.body(null, 304, headers)
      const about = {
        ...headers,
        'content-type': 'application/octet-stream',
        'content-length': String(stored.sizeBytes),
      }
      if (c.req.method === 'HEAD') return c.body(null, 200, about)
      const path = await blobs.path(workspaceId, sha)
      return c.body(Readable.toWeb(createReadStream(path)) as ReadableStream, 200, about)
    })
    .post('/:id/make', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const source = await findHere(workspaceId, c.req.valid('param').id)
      if (source.deletedAt) throw new Problem(409, `"${source.name}" lies in the bin; bring it back first.`)
      const job = await jobs.add({
        workspaceId,
        kind: 'make-source',
        subjectId: source.id,
        title: `Making "${source.name}"`,
        payload: {},
      })
      return c.json({ jobId: job.id }, 202)
    })
    .post('/:id/bin', valid('param', Id), async (c) => {
      const { id } = c.req.valid('param')
      if (!(await binSource(db, c.get('workspaceId'), id, true))) throw notFound('source')
      await changed(c.get('workspaceId'), id)
      return c.json({ ok: true })
    })
    .post('/:id/bring-back', valid('param', Id), async (c) => {
      const { id } = c.req.valid('param')
      if (!(await binSource(db, c.get('workspaceId'), id, false))) throw notFound('source')
      await changed(c.get('workspaceId'), id)
      return c.json({ ok: true })
    })
}

const movedOn = () =>
  new Problem(409, 'This source was changed somewhere else meanwhile; reload it and make the change again.')

const tooLarge = (name: string) =>
  new Problem(
    413,
    `"${name}" is larger than ${ENTRY_MEMORY_MAX_BYTES / 1024 ** 2} MiB; save it smaller and drop it again.`,
  )

/** A source is called after its file, without the extension. */
const nameFrom = (name: string): string =>
  toOneLine(
    name
      .replace(/^.*[\\/]/, '')
      .replace(/\.[A-Za-z0-9]{1,5}$/, '')
      .replaceAll(/[_-]+/g, ' '),
    NAME_MAX_CHARS,
  ) || 'Unnamed'
