import type { Plan, Way } from '@satchel/core/make/ways'
import type { ReactNode } from 'react'
import { plural } from '../../../components/format.ts'
import type { MakeShown } from '../../../workers/make/protocol.ts'
import type { PlanHead } from '../steps/steps-list.tsx'
import type { PointerMeaning, Tools } from '../steps/tools.ts'
import { joinOrCut, leaveOut, turnView } from './by-pointer.ts'
import { LayersPanel } from './layers-panel.tsx'
import { ModelPanel } from './model-panel.tsx'
import { ObjectsPanel } from './objects-panel.tsx'
import { OrnamentPanel } from './ornament-panel.tsx'

type PlanOf<Which extends Way> = Extract<Plan, { way: Which }>

/** What the panel of a way may use besides its plan. */
export type WayContext = {
  change: (plan: Plan, what: string) => void
  shown: MakeShown | undefined
  tools: Tools
  onTools: (tools: Tools) => void
  /** The part that is tried, by its place. */
  part: number
  onPart: (part: number) => void
}

type Point = { x: number; y: number }
/** Another plan, and what is changed in it. */
type Changed = { plan: Plan; what: string }

type WayRow<Which extends Way> = {
  /** What the pointer means while the panel is open. */
  meaning: PointerMeaning
  /** What a touch, a line drawn and a turn of the picture do while the panel is open; px of the source, and of the page. */
  touch?(plan: PlanOf<Which>, shown: MakeShown, at: Point): Changed | undefined
  draw?(plan: PlanOf<Which>, tools: Tools, path: readonly number[]): Changed | undefined
  turn?(plan: PlanOf<Which>, part: number, by: Point): Changed
  /** Whether it ends as a shape whose outline is worth having. */
  hasOutline?: true
  /** How many tips, or frames, come of a plan. */
  count(plan: PlanOf<Which>, shown: MakeShown | undefined): number
  /** What it has besides its steps, and where among them that stands. */
  head?: {
    before: PlanHead['before']
    title: string
    summary(plan: PlanOf<Which>, shown: MakeShown | undefined): string
    panel(plan: PlanOf<Which>, context: WayContext): ReactNode
  }
}

const countObjects = (shown: MakeShown | undefined) => shown?.objects.filter(({ isLeftOut }) => !isLeftOut).length ?? 0

/** Every way to begin as the page has it, one row each. */
const WAY_PANELS: { [Which in Way]: WayRow<Which> } = {
  picture: { meaning: 'none', count: () => 1 },
  sheet: {
    meaning: 'objects',
    touch: leaveOut,
    draw: joinOrCut,
    count: (_, shown) => countObjects(shown),
    head: {
      before: 'trim',
      title: 'Objects',
      summary: (_, shown) => (shown ? `${plural(countObjects(shown), 'object')} found` : 'looking …'),
      panel: (plan, { change, shown, tools, onTools }) => (
        <ObjectsPanel
          objects={plan.objects}
          count={countObjects(shown)}
          {...{ tools, onTools }}
          onChange={(objects) => change({ ...plan, objects }, 'objects')}
        />
      ),
    },
  },
  ornament: {
    meaning: 'none',
    hasOutline: true,
    count: () => 1,
    head: {
      before: 'trim',
      title: 'Ornament',
      summary: ({ ornament: { count } }) => (count === 1 ? 'once' : `${count} around a middle`),
      panel: (plan, { change }) => (
        <OrnamentPanel ornament={plan.ornament} onChange={(ornament) => change({ ...plan, ornament }, 'ornament')} />
      ),
    },
  },
  layers: {
    meaning: 'none',
    count: ({ layers }) => layers.chosen.length,
    head: {
      before: 'crop',
      title: 'Layers',
      summary: ({ layers }, shown) =>
        shown ? `${layers.chosen.length} of ${shown.layers.length} chosen` : 'looking …',
      panel: (plan, { change, shown, part, onPart }) => (
        <LayersPanel
          plan={plan.layers}
          layers={shown?.layers ?? []}
          {...{ part, onPart }}
          onChange={(layers) => change({ ...plan, layers }, 'layers')}
        />
      ),
    },
  },
  model: {
    meaning: 'turn',
    turn: turnView,
    count: ({ model }) => model.views.length,
    head: {
      before: 'crop',
      title: 'Model',
      summary: ({ model }) => plural(model.views.length, 'view'),
      panel: (plan, { change, shown, part, onPart }) => (
        <ModelPanel
          model={plan.model}
          {...{ part, onPart }}
          circleLoss={shown?.circleLoss}
          onChange={(model) => change({ ...plan, model }, 'model')}
        />
      ),
    },
  },
}

/** Whether a plan has more to say than its steps. */
export const hasHead = (plan: Plan): boolean => rowOf(plan).head !== undefined
export const hasOutline = (plan: Plan): boolean => rowOf(plan).hasOutline === true
export const touchHead = (plan: Plan, shown: MakeShown, at: Point) => rowOf(plan).touch?.(plan, shown, at)
export const drawOverHead = (plan: Plan, tools: Tools, path: readonly number[]) => rowOf(plan).draw?.(plan, tools, path)
export const turnHead = (plan: Plan, part: number, by: Point) => rowOf(plan).turn?.(plan, part, by)

/** The row of a plan's own way: the compiler cannot follow that they belong together. */
const rowOf = (plan: Plan) => WAY_PANELS[plan.way] as unknown as WayRow<Way>

export const meaningOf = (plan: Plan): PointerMeaning => rowOf(plan).meaning
export const countOf = (plan: Plan, shown: MakeShown | undefined): number => rowOf(plan).count(plan, shown)

export function headOf(plan: Plan, context: WayContext): PlanHead | undefined {
  const { head } = rowOf(plan)
  if (!head) return undefined
  const { before, title } = head
  return { before, title, summary: head.summary(plan, context.shown), panel: head.panel(plan, context) }
}
