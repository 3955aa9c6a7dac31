import { parseRecipe } from '@satchel/core/brush/migrate-recipe'
import { Thumbnail } from '@satchel/core/brush/thumbnail'
import { FormatError } from '@satchel/core/errors'
import { Line, Name } from '@satchel/core/forms/names'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { copyBrush, swapTip } from '../db/brush-tips.ts'
import { labelVersion } from '../db/brush-versions.ts'
import { findBrush, findBrushForStroke } from '../db/brushes.ts'
import { goToVersion, saveBrush } from '../db/save-brush.ts'
import { addToSet } from '../db/sets.ts'
import { notFound, Problem } from '../errors.ts'
import { saveThumbnail } from '../library/save-thumbnail.ts'
import { LIST_TIP_SIDE_PX, STROKE_SIZE_NAMES, STROKE_SIZES } from '../pictures/picture-sizes.ts'
import { strokePicture, thumbnailPicture, tipPicture } from '../pictures/renders.ts'
import { immutablePng, type SignedIn } from './context.ts'
import { Count, Id, Ordinal, Tags, valid } from './validate.ts'

const Save = v.object({
  name: Name,
  maker: Line,
  licence: Line,
  tags: Tags,
  recipe: v.unknown(),
  from: Count,
})
const Version = v.object({ ordinal: Count })
const Picture = v.object({
  size: v.optional(v.picklist(STROKE_SIZE_NAMES), 'line'),
  /** A version of the brush other than the current one. */
  version: v.optional(Ordinal),
})
const Swap = v.object({ tipFrom: v.pipe(v.string(), v.uuid()), from: Count })
/** `picture` is the PNG of a region or of words. */
const ThumbnailForm = v.object({
  from: Ordinal,
  thumbnail: v.pipe(v.string(), v.parseJson(), Thumbnail),
  picture: v.optional(v.instance(File)),
})
/** What the thumbnail would be like: the stroke, or a frame counted from 1. By default what it is. */
const ThumbnailLook = v.object({ stroke: v.optional(v.literal('1')), frame: v.optional(Ordinal) })
const Copy = v.object({
  name: Name,
  maker: v.optional(Line),
  tipFrom: v.optional(v.pipe(v.string(), v.uuid())),
  setId: v.optional(v.pipe(v.string(), v.uuid())),
})
const OneVersion = v.object({
  id: v.pipe(v.string(), v.uuid()),
  ordinal: Ordinal,
})

/** One brush: its recipe and history, its tip, thumbnail and strokes, copies of it. */
export const oneBrushRoutes = (deps: AppDeps) => {
  const { db, events } = deps
  const changed = (workspaceId: string, id?: string) =>
    events.publish({ workspaceId, topic: 'library', ...(id ? { id } : {}) })
  return new Hono<SignedIn>()
    .get('/:id', valid('param', Id), async (c) => {
      const brush = await findBrush(db, c.get('workspaceId'), c.req.valid('param').id)
      if (!brush) throw notFound('brush')
      return c.json(brush)
    })
    .put('/:id', valid('param', Id), valid('json', Save), async (c) => {
      const { id } = c.req.valid('param')
      const { from, recipe, ...facts } = c.req.valid('json')
      const version = await saveBrush(db, c.get('workspaceId'), id, {
        to: { ...facts, recipe: checkedRecipe(recipe) },
        from,
      })
      if (!version) throw movedOn()
      await changed(c.get('workspaceId'), id)
      return c.json({ version })
    })
    .post('/:id/version', valid('param', Id), valid('json', Version), async (c) => {
      const { id } = c.req.valid('param')
      if (!(await goToVersion(db, c.get('workspaceId'), id, c.req.valid('json').ordinal))) throw notFound('version')
      await changed(c.get('workspaceId'), id)
      return c.json({ ok: true })
    })
    .get('/:id/versions/:ordinal', valid('param', OneVersion), async (c) => {
      const { id, ordinal } = c.req.valid('param')
      const version = await findBrushForStroke(db, c.get('workspaceId'), id, ordinal)
      if (!version) throw notFound('version')
      const { recipe, frames, grain } = version
      return c.json({ recipe, frames, grainBlob: grain?.blobSha })
    })
    .patch(
      '/:id/versions/:ordinal',
      valid('param', OneVersion),
      valid('json', v.object({ label: Line })),
      async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id: brushId, ordinal } = c.req.valid('param')
        if (!(await labelVersion(db, { workspaceId, brushId, ordinal }, c.req.valid('json').label)))
          throw notFound('version')
        await changed(workspaceId, brushId)
        return c.json({ ok: true })
      },
    )
    .post('/:id/copy', valid('param', Id), valid('json', Copy), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { setId, ...wish } = c.req.valid('json')
      const copy = await copyBrush(db, workspaceId, c.req.valid('param').id, wish)
      if (!copy) throw notFound('brush')
      if (setId) await addToSet(db, workspaceId, setId, [copy])
      await changed(workspaceId)
      return c.json({ id: copy }, 201)
    })
    .post('/:id/tip', valid('param', Id), valid('json', Swap), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const version = await swapTip(db, workspaceId, id, c.req.valid('json'))
      if (!version) throw movedOn()
      await changed(workspaceId, id)
      return c.json({ version })
    })
    .put('/:id/thumbnail', valid('param', Id), valid('form', ThumbnailForm), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const { from, thumbnail, picture } = c.req.valid('form')
      const png = picture && new Uint8Array(await picture.arrayBuffer())
      const version = await saveThumbnail(deps, workspaceId, id, { thumbnail, png, from })
      if (!version) throw movedOn()
      await changed(workspaceId, id)
      return c.json({ version })
    })
    .get('/:id/thumbnail.png', valid('param', Id), valid('query', ThumbnailLook), async (c) => {
      const { frame, stroke } = c.req.valid('query')
      const workspaceId = c.get('workspaceId')
      const brush = await findBrushForStroke(db, workspaceId, c.req.valid('param').id)
      if (!brush) throw notFound('brush')
      const frames = brush.frames.map((frame) => frame.blobSha)
      const { key, png } = await thumbnailPicture(deps, workspaceId, {
        recipe: brush.recipe,
        frames,
        grain: brush.grain?.blobSha,
        thumbnail: stroke ? { from: 'stroke' } : frame ? { from: 'frame', frame: frame - 1 } : brush.thumbnail,
      })
      return immutablePng(c, key, png)
    })
    .get('/:id/tip.png', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const brush = await findBrushForStroke(db, workspaceId, c.req.valid('param').id)
      const shown = brush?.frames[brush.thumbnail.from === 'frame' ? brush.thumbnail.frame : 0] ?? brush?.frames[0]
      if (!brush || !shown) throw notFound('brush')
      const { key, png } = await tipPicture(deps, workspaceId, {
        blobSha: shown.blobSha,
        reading: brush.recipe.colour.reading,
        sidePx: LIST_TIP_SIDE_PX,
      })
      return immutablePng(c, key, png)
    })
    .get('/:id/stroke.png', valid('param', Id), valid('query', Picture), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { size, version } = c.req.valid('query')
      const brush = await findBrushForStroke(db, workspaceId, c.req.valid('param').id, version)
      if (!brush) throw notFound('brush')
      const frames = brush.frames.map((frame) => frame.blobSha)
      const { key, png } = await strokePicture(deps, workspaceId, {
        frames,
        grain: brush.grain?.blobSha,
        recipe: brush.recipe,
        ...STROKE_SIZES[size],
      })
      return immutablePng(c, key, png)
    })
}

const movedOn = () =>
  new Problem(409, 'This brush was changed somewhere else meanwhile; reload it and make the change again.')

function checkedRecipe(recipe: unknown) {
  try {
    return parseRecipe(recipe)
  } catch (error) {
    if (error instanceof FormatError) throw new Problem(422, `The recipe cannot be saved: expected ${error.expected}.`)
    throw error
  }
}
