import { defaultRecipe, type PaintReading, type Recipe } from '@satchel/core/brush/recipe'
import { toRibbonRecipe } from '@satchel/core/brush/starting-points'
import type { SeamFigures } from '@satchel/core/grain/seam'
import { FIRST_STROKES, type FirstStroke } from '@satchel/core/make/first-stroke'
import { and, eq, isNull } from 'drizzle-orm'
import { type NewTip, setTip } from '../db/brush-tips.ts'
import type { Db } from '../db/database.ts'
import { addMaterials, type NewMaterial } from '../db/materials.ts'
import { findFacts } from '../db/members.ts'
import { insertBrushes } from '../db/save-brush.ts'
import { brush, tip } from '../db/schema/all.ts'
import { findSource, holdMade, noteMade, type Source } from '../db/sources.ts'
import type { Deps } from '../deps.ts'
import { type JobHandler, JobRefused, JobStopped } from '../queue/queue.ts'
import { toPixelKey } from '../workers/read-tip.ts'
import type { MadeSource } from '../workers/results.ts'

const SHARES = 1000

/** The whole of a source that becomes one animated tip. */
const FRAMES_PART = 'frames'

/**
 * Makes a source's tips at full size. Those that were made before get new pixels, and keep everything else; new ones
 * become new brushes. All of it goes in with one transaction.
 */
export const makeSourceJob = (deps: Deps): JobHandler<'make-source'> => ({
  async run({ job: { workspaceId, subjectId }, progress, signal }) {
    const source = await findSource(deps.db, workspaceId, subjectId)
    if (!source || source.deletedAt) throw new JobStopped()
    const made = await runElsewhere(deps, source, progress)
    progress(SHARES, SHARES)
    signal.throwIfAborted()
    await deps.db.transaction((tx) => keepMade({ ...deps, db: tx }, source, made))
    for (const topic of ['sources', 'library'] as const) await deps.events.publish({ workspaceId, topic })
  },
})

async function runElsewhere(
  { blobs, workers }: Deps,
  { workspaceId, name, file, plan }: Source,
  progress: (done: number, total: number) => void,
): Promise<MadeSource> {
  const bytes = await blobs.read(workspaceId, file.blobSha)
  const made = await workers.run('makeSource', { bytes, plan }, { onShare: (share) => progress(share, SHARES) })
  if ('refused' in made) throw new JobRefused(`"${name}" cannot be made so: ${made.refused} Choose less of it.`)
  return made
}

type Part = {
  part: string
  name: string
  reading: PaintReading
  stroke: FirstStroke
  tip: NewTip
  seam: SeamFigures | undefined
}

/** Stores what was made, and gives it to the brushes that were made of the source before, or to new ones. */
async function keepMade({ db, blobs }: Pick<Deps, 'db' | 'blobs'>, source: Source, made: MadeSource): Promise<void> {
  const { workspaceId, id: sourceId, revision } = source
  const stored: Part[] = []
  for (const { name, frame, alike, ...rest } of made.parts) {
    const { png, pixelSha, width, height } = frame
    const { sha256 } = await blobs.put(db, workspaceId, png, 'image/png')
    const tip = {
      frames: [{ blobSha: sha256, pixelSha, width, height }],
      pixelKey: toPixelKey([pixelSha]),
      alikeKey: alike?.key ?? null,
      alikeMark: alike?.mark ?? null,
    }
    stored.push({ ...rest, name: [source.name, name].filter(Boolean).join(' '), tip })
  }
  await addMaterials(db, workspaceId, stored.flatMap(toStrip))
  const before = new Map((await holdMade(db, workspaceId, sourceId)).map((row) => [row.part, row]))
  for (const each of made.become === 'frames' ? [asFrames(stored, source.name)] : stored) {
    const { part, reading } = each
    const old = before.get(part)
    const again = old && (await makeAgain(db, workspaceId, old, each))
    const brushId = again ? old.brushId : await makeNew(db, workspaceId, each)
    await noteMade(db, { workspaceId, sourceId, part, brushId, revision, reading })
  }
}

/** A strip lies with the grains and strips, too. */
function toStrip({ name, tip, seam }: Part): NewMaterial[] {
  const [frame] = tip.frames
  return frame && seam ? [{ kind: 'strip', name, ...frame, seamAcross: seam.across, seamDown: seam.down }] : []
}

function asFrames(parts: readonly Part[], name: string): Part {
  const [first] = parts
  if (!first) throw new Error('nothing was made')
  const frames = parts.flatMap(({ tip }) => tip.frames)
  const pixelKey = toPixelKey(frames.map((frame) => frame.pixelSha))
  return { ...first, part: FRAMES_PART, name, tip: { ...first.tip, frames, pixelKey } }
}

/** New pixels under a brush that was made before. @returns Whether it is still there. */
async function makeAgain(
  db: Db,
  workspaceId: string,
  { brushId, reading: readingBefore }: { brushId: string; reading: PaintReading },
  made: Part,
): Promise<boolean> {
  const [row] = await db
    .select({ version: brush.version, pixelKey: tip.pixelKey })
    .from(brush)
    .innerJoin(tip, eq(tip.id, brush.tipId))
    .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, brushId), isNull(brush.deletedAt)))
    .for('update', { of: brush })
  if (!row) return false
  // made anew of the same: no version that shows no change
  if (row.pixelKey === made.tip.pixelKey && made.reading === readingBefore) return true
  const change = (recipe: Recipe): Recipe =>
    made.reading === readingBefore ? recipe : { ...recipe, colour: { ...recipe.colour, reading: made.reading } }
  return (await setTip(db, workspaceId, brushId, { tip: made.tip, from: row.version, change })) !== undefined
}

async function makeNew(db: Db, workspaceId: string, { name, reading, stroke, tip, seam }: Part): Promise<string> {
  const sizePx = Math.max(...tip.frames.flatMap(({ width, height }) => [width, height]))
  const plain = defaultRecipe({ sizePx, reading, frames: tip.frames.length })
  const recipe = seam ? toRibbonRecipe(plain, tip.frames[0]?.height ?? sizePx) : FIRST_STROKES[stroke].recipe(plain)
  const facts = await findFacts(db, workspaceId)
  const [id] = await insertBrushes(db, workspaceId, [{ name, ...facts, tags: [], recipe, ...tip }])
  if (!id) throw new Error('the brush was not inserted')
  return id
}
