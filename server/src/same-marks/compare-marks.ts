import { type Difference, isSeen } from '@satchel/core/alike/differences'
import type { AppDeps } from '../app-deps.ts'
import { askAs } from '../asking.ts'
import { listTipFrames } from '../db/brushes.ts'
import type { ComparedTip } from '../db/gather-duplicates.ts'
import {
  type FoundMark,
  forgetGoneMarks,
  hasFreshMarks,
  listApart,
  listMarkTips,
  type MarkTip,
  markOf,
  noteCompared,
} from '../db/same-marks.ts'
import type { Deps } from '../deps.ts'
import { groupAlike, judgePixels } from '../gather/group-alike.ts'
import { measureTips } from '../gather/measure-tips.ts'
import type { JobContext, JobHandler } from '../queue/queue.ts'

/** Marks that are compared and noted together: a job that is stopped begins again with those. */
const AT_ONCE = 4000

/** Compares the marks of a library that were not compared yet with all others; goes on where it was stopped. */
export const compareMarksJob = (deps: Deps): JobHandler<'compare-marks'> => ({
  run: (context) => askAs({ isBehind: true }, () => compareMarks(deps, context)),
  // what came in while it ran was asked for, too, and is this very job by its subject
  more: ({ workspaceId }) => hasFreshMarks(deps.db, workspaceId),
})

/** Has the marks of a library compared that were not yet. */
export const compareNow = ({ jobs }: Pick<AppDeps, 'jobs'>, workspaceId: string) =>
  jobs.add({ workspaceId, kind: 'compare-marks', subjectId: workspaceId, title: 'Compare new marks', payload: {} })

export async function compareMarks(
  deps: Deps,
  { job: { workspaceId }, progress, signal }: JobContext<'compare-marks'>,
): Promise<void> {
  const { db, events } = deps
  await measureTips(deps, workspaceId, signal)
  await db.transaction((tx) => forgetGoneMarks(tx, workspaceId))
  const fresh = await listMarkTips(db, workspaceId, 'fresh')
  const originals = fresh.length > 0 ? await listMarkTips(db, workspaceId, 'originals') : []
  for (let at = 0; at < fresh.length; at += AT_ONCE) {
    progress(at, fresh.length)
    const others = fresh.slice(at, at + AT_ONCE)
    const apart = await listApart(db, workspaceId)
    const confirm = async (own: ComparedTip, original: ComparedTip) =>
      apart.has(`${markOf(own)} | ${markOf(original)}`)
        ? undefined
        : judgeFrames(deps, workspaceId, own as MarkTip, original as MarkTip)
    const copies = await groupAlike(deps, workspaceId, { originals, others, confirm, signal })
    const copyOf = new Map(copies.map((copy) => [copy.own, copy]))
    const found = others.map((own): FoundMark => {
      const copy = copyOf.get(own)
      if (!copy) return { mark: markOf(own), original: null, differs: null, isSeen: false }
      const { original, differs } = copy
      return { mark: markOf(own), original: markOf(original), differs, isSeen: differs.some(isSeen) }
    })
    signal.throwIfAborted()
    await noteCompared(db, workspaceId, found)
    originals.push(...others.filter((own) => !copyOf.has(own)))
    await events.publish({ workspaceId, topic: 'marks' })
  }
  progress(fresh.length, fresh.length)
}

/**
 * How a tip differs from its original, frame by frame where both have as many: one frame that is not alike makes them
 * unlike. Where they have not, the first frames are compared, and it is said.
 */
async function judgeFrames(
  deps: Deps,
  workspaceId: string,
  own: MarkTip,
  original: MarkTip,
): Promise<Difference[] | undefined> {
  const differs = await judgePixels(deps, workspaceId, own, original)
  if (!differs || (own.frames === 1 && original.frames === 1)) return differs
  if (own.frames !== original.frames) return [...differs, { kind: 'frames', amount: [own.frames, original.frames] }]
  const [ownFrames, firsts] = await Promise.all([
    listTipFrames(deps.db, workspaceId, own.markId),
    listTipFrames(deps.db, workspaceId, original.markId),
  ])
  for (const [i, frame] of ownFrames.entries()) {
    const first = firsts[i]
    if (i === 0 || !first || frame.pixelSha === first.pixelSha) continue
    const each = await judgePixels(
      deps,
      workspaceId,
      { ...own, blobSha: frame.blobSha },
      { ...original, blobSha: first.blobSha },
    )
    if (!each) return undefined
  }
  return differs
}
