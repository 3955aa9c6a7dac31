import type { Plan } from '@satchel/core/make/ways'
import type { MakeShown } from '../../../workers/make/protocol.ts'
import type { Tools } from '../steps/tools.ts'

type Sheet = Extract<Plan, { way: 'sheet' }>
type Model = Extract<Plan, { way: 'model' }>
type Point = { x: number; y: number }
type Box = { left: number; top: number; right: number; bottom: number }

/** Whether a place of the source lies in a box of what is shown. */
function isIn({ place }: Pick<MakeShown, 'place'>, box: Box, { x, y }: Point): boolean {
  const [px, py] = [(x - place.left) * place.scale, (y - place.top) * place.scale]
  return px >= box.left && px < box.right && py >= box.top && py < box.bottom
}

/** A touched object of a sheet no longer counts, or counts again. */
export function leaveOut(plan: Sheet, shown: MakeShown, at: Point) {
  const hit = shown.objects.find((each) => isIn(shown, each, at))
  if (!hit) return undefined
  const { leftOut } = plan.objects
  const next = hit.isLeftOut ? leftOut.filter((point) => !isIn(shown, hit, point)) : [...leftOut, hit.at]
  return { plan: { ...plan, objects: { ...plan.objects, leftOut: next } }, what: `left out ${next.length}` }
}

/** A line over a sheet cuts what it crosses, or joins what it begins and ends on. */
export function joinOrCut(plan: Sheet, tools: Tools, path: readonly number[]) {
  if (path.length < 4) return undefined
  const line = { from: { x: path[0] ?? 0, y: path[1] ?? 0 }, to: { x: path.at(-2) ?? 0, y: path.at(-1) ?? 0 } }
  const { objects } = plan
  const next =
    tools.objects === 'cut'
      ? { ...objects, cuts: [...objects.cuts, line] }
      : { ...objects, joined: [...objects.joined, line] }
  return { plan: { ...plan, objects: next }, what: `by hand ${next.cuts.length} ${next.joined.length}` }
}

const DEGREES_A_PX = 0.5
const wrap = (deg: number) => ((((deg + 180) % 360) + 360) % 360) - 180

/** Dragging turns the view of a model that is tried. @param by How far, px of the page. */
export function turnView(plan: Model, part: number, by: Point) {
  const views = plan.model.views.map((view, i) =>
    i === part
      ? {
          ...view,
          yawDeg: wrap(view.yawDeg + by.x * DEGREES_A_PX),
          pitchDeg: wrap(view.pitchDeg + by.y * DEGREES_A_PX),
        }
      : view,
  )
  return { plan: { ...plan, model: { ...plan.model, views } }, what: 'turn' }
}
