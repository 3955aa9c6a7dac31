import { MENDS, type Mend } from '@satchel/core/check-list/rules'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { type Mended, mendBrush } from '../check-list/mends.ts'
import { openSubject } from '../check-list/subject.ts'
import { findBrush } from '../db/brushes.ts'
import { listLetPass, listLooked, setLetPass, setLooked } from '../db/check-list.ts'
import { findPack } from '../db/packs.ts'
import { goToVersion } from '../db/save-brush.ts'
import { notFound, Refusal } from '../errors.ts'
import type { SignedIn } from './context.ts'
import { Count, Id, valid } from './validate.ts'

const REASON_MAX_CHARS = 300
const FINDINGS_MAX = 20_000
/** Two names, and a sentence around them. */
const FINDING_MAX_CHARS = 4_000
/** Brushes that are mended by one request; a page asks again for the next. */
export const MENDED_AT_ONCE = 10

const Uuid = v.pipe(v.string(), v.uuid())
const Findings = v.pipe(
  v.array(v.pipe(v.string(), v.maxLength(FINDING_MAX_CHARS))),
  v.minLength(1),
  v.maxLength(FINDINGS_MAX),
)
const Pass = v.object({
  findings: Findings,
  /** Without one they are looked at again. */
  reason: v.nullable(v.pipe(v.string(), v.trim(), v.minLength(1, 'a reason is wanted'), v.maxLength(REASON_MAX_CHARS))),
})
const ToMend = v.object({
  mend: v.picklist(Object.keys(MENDS) as Mend[]),
  brushIds: v.pipe(v.array(Uuid), v.minLength(1), v.maxLength(MENDED_AT_ONCE)),
})
const Undo = v.object({
  mended: v.pipe(
    v.array(
      v.union([
        v.strictObject({ id: Uuid, from: Count, to: Count }),
        v.strictObject({ id: Uuid, looked: v.nullable(v.pipe(v.number(), v.integer())) }),
      ]),
    ),
    v.maxLength(FINDINGS_MAX),
  ),
})

/** What is to be said of a pack before it is released, and what mends it. */
export const checkListRoutes = (deps: AppDeps) => {
  const { db, jobs, events } = deps
  const find = async (workspaceId: string, id: string) => {
    const pack = await findPack(db, workspaceId, id)
    if (!pack) throw notFound('pack')
    return pack
  }
  const changed = async (workspaceId: string, id: string) => {
    await events.publish({ workspaceId, topic: 'packs', id })
    await events.publish({ workspaceId, topic: 'library' })
  }
  return new Hono<SignedIn>()
    .get('/:id/check', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const pack = await find(workspaceId, c.req.valid('param').id)
      const [opened, reasons] = await Promise.all([openSubject(deps, pack), listLetPass(db, workspaceId, pack.id)])
      const { subject, names, measured } = opened
      const findings = await deps.workers.run('checkPack', subject)
      return c.json({
        title: pack.title,
        measured,
        brushes: subject.brushes.length,
        isAlikeKnown: subject.alike !== undefined,
        unknownFits: subject.brushes.flatMap(({ likeness }) => likeness.filter(({ score }) => score === undefined))
          .length,
        findings: findings.map((finding) => ({
          ...finding,
          brush: finding.brushId === undefined ? null : (names.get(finding.brushId) ?? ''),
          reason: reasons.get(finding.key) ?? null,
        })),
      })
    })
    .post('/:id/check', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const pack = await find(workspaceId, c.req.valid('param').id)
      const title = `Checking ${pack.title}`
      const job = await jobs.add({ workspaceId, kind: 'check-pack', subjectId: pack.id, title, payload: {} })
      return c.json({ id: job.id }, 202)
    })
    .put('/:id/check/pass', valid('param', Id), valid('json', Pass), async (c) => {
      const workspaceId = c.get('workspaceId')
      const pack = await find(workspaceId, c.req.valid('param').id)
      await setLetPass(db, workspaceId, pack.id, c.req.valid('json'))
      await events.publish({ workspaceId, topic: 'packs', id: pack.id })
      return c.json({ ok: true })
    })
    .post('/:id/check/mend', valid('param', Id), valid('json', ToMend), async (c) => {
      const workspaceId = c.get('workspaceId')
      const pack = await find(workspaceId, c.req.valid('param').id)
      const { mend, brushIds } = c.req.valid('json')
      const looked = await listLooked(db, workspaceId, pack.id)
      const mended: Mended[] = []
      const refused: { id: string; why: string }[] = []
      for (const brushId of new Set(brushIds))
        try {
          mended.push(await mendBrush(deps, pack, { mend, brushId, looked: looked.get(brushId) ?? null }))
        } catch (error) {
          if (!(error instanceof Refusal)) throw error
          refused.push({ id: brushId, why: error.message })
        }
      await changed(workspaceId, pack.id)
      return c.json({ mended, refused })
    })
    .post('/:id/check/undo', valid('param', Id), valid('json', Undo), async (c) => {
      const workspaceId = c.get('workspaceId')
      const pack = await find(workspaceId, c.req.valid('param').id)
      let undone = 0
      for (const each of c.req.valid('json').mended) {
        if ('looked' in each) {
          await setLooked(db, workspaceId, pack.id, [{ brushId: each.id, looked: each.looked }])
          undone++
          continue
        }
        // what was changed since stays as it is
        const brush = await findBrush(db, workspaceId, each.id)
        if (brush?.version === each.to && (await goToVersion(db, workspaceId, each.id, each.from))) undone++
      }
      await changed(workspaceId, pack.id)
      return c.json({ undone })
    })
}
