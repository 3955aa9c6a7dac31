import type { Plan, Way } from '@satchel/core/make/ways'
import type { ReactNode } from 'react'
import { plural } from '../../../components/format.ts'
import type { MakeShown } from '../../../workers/make/protocol.ts'
import type { PlanHead } from '../steps/steps-list.tsx'
import type { PointerMeaning, Tools } from '../steps/tools.ts'
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

type WayRow<Which extends Way> = {
  /** What the pointer means while the panel is open. */
  meaning: PointerMeaning
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
