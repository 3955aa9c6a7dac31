import { STEP_KINDS, type Step, type StepName, type Steps } from '@satchel/core/make/step-kinds'
import { moveStep } from '@satchel/core/make/steps'
import { ArrowDown, ArrowUp, ChevronDown, ChevronRight } from 'lucide-react'
import type { ReactNode } from 'react'
import type { PanelContext } from './panel-context.ts'
import { PANELS } from './step-panels.tsx'

/** What a way has besides its steps, and the step it stands before. */
export type PlanHead = { before: StepName; title: string; summary: string; panel: ReactNode }

type Props = {
  steps: Steps
  open: StepName | 'head' | undefined
  onOpen: (name: StepName | 'head' | undefined) => void
  onChange: (steps: Step[], what: string) => void
  context: PanelContext
  /** What a way has besides its steps, and the step it stands before. */
  head?: PlanHead | undefined
}

/** The steps from picture to tip, numbered; each can be opened, switched off, and moved where that makes sense. */
export function StepsList({ steps, open, onOpen, onChange, context, head }: Props) {
  const rows = steps.flatMap((step, i) => {
    const row = (
      <StepRow
        key={step.kind}
        {...{ step, steps, i, context, onChange }}
        number={i + 1 + (head && i >= steps.findIndex(({ kind }) => kind === head.before) ? 1 : 0)}
        isOpen={open === step.kind}
        onToggle={() => onOpen(open === step.kind ? undefined : step.kind)}
      />
    )
    if (step.kind !== head?.before) return [row]
    return [
      <Fold
        key="head"
        title={head.title}
        about={head.summary}
        number={i + 1}
        isOn
        isOpen={open === 'head'}
        onToggle={() => onOpen(open === 'head' ? undefined : 'head')}
      >
        {head.panel}
      </Fold>,
      row,
    ]
  })
  return (
    <ol aria-label="Steps" className="grid content-start">
      {rows}
    </ol>
  )
}

type RowProps = Pick<Props, 'steps' | 'onChange' | 'context'> & {
  step: Step
  i: number
  number: number
  isOpen: boolean
  onToggle: () => void
}

function StepRow({ step, steps, i, number, isOpen, onToggle, onChange, context }: RowProps) {
  const { word, about, moves, mayBeOff } = STEP_KINDS[step.kind]
  const replace = (next: Step, what: string) =>
    onChange(
      steps.map((each) => (each.kind === step.kind ? next : each)),
      what,
    )
  const panel = PANELS[step.kind] as (
    settings: unknown,
    onChange: (settings: unknown) => void,
    context: PanelContext,
  ) => ReactNode
  const move = (by: -1 | 1) => onChange([...moveStep(steps, i, i + by)], `move ${step.kind}`)
  const mayMove = (by: -1 | 1) => moves && moveStep(steps, i, i + by) !== steps
  return (
    <Fold
      title={word}
      about={step.on ? about : 'left out'}
      number={number}
      isOn={step.on}
      isOpen={isOpen}
      onToggle={onToggle}
      aside={
        mayBeOff && (
          <input
            type="checkbox"
            aria-label={`${word} counts`}
            checked={step.on}
            onChange={(event) => replace({ ...step, on: event.target.checked }, `switch ${step.kind}`)}
            className="h-4 w-4"
          />
        )
      }
    >
      {panel(step.settings, (settings) => replace({ ...step, on: true, settings } as Step, step.kind), context)}
      {moves && (
        <p className="flex gap-1 text-13">
          <MoveButton
            label={`${word} earlier`}
            icon={<ArrowUp size={18} aria-hidden />}
            text="earlier"
            disabled={!mayMove(-1)}
            onMove={() => move(-1)}
          />
          <MoveButton
            label={`${word} later`}
            icon={<ArrowDown size={18} aria-hidden />}
            text="later"
            disabled={!mayMove(1)}
            onMove={() => move(1)}
          />
        </p>
      )}
    </Fold>
  )
}

function MoveButton({
  label,
  icon,
  text,
  disabled,
  onMove,
}: {
  label: string
  icon: ReactNode
  text: string
  disabled: boolean
  onMove: () => void
}) {
  return (
    <button
      type="button"
      aria-label={label}
      disabled={disabled}
      onClick={onMove}
      className="inline-flex items-center gap-1 rounded-4 border border-line bg-raised px-2 py-0.5 hover:border-saddle disabled:opacity-45"
    >
      {icon} {text}
    </button>
  )
}

type FoldProps = {
  title: string
  about: string
  number: number
  isOn: boolean
  isOpen: boolean
  onToggle: () => void
  aside?: ReactNode
  children: ReactNode
}

function Fold({ title, about, number, isOn, isOpen, onToggle, aside, children }: FoldProps) {
  const Chevron = isOpen ? ChevronDown : ChevronRight
  return (
    <li className={`border-b border-line ${isOpen ? 'bg-surface' : ''}`}>
      <div className="flex items-center gap-2 px-1">
        <button
          type="button"
          aria-expanded={isOpen}
          onClick={onToggle}
          className="flex min-w-0 flex-1 items-center gap-2 py-1.5 text-left"
        >
          <span className="measure w-5 text-right text-quiet">{number}</span>
          <span className={`min-w-0 flex-1 leading-tight ${isOn ? '' : 'text-quiet'}`}>
            <span className={isOpen ? 'font-semibold' : ''}>{title}</span>
            <span className="block truncate text-12 text-quiet">{about}</span>
          </span>
          <Chevron size={18} aria-hidden className="text-quiet" />
        </button>
        {aside}
      </div>
      {isOpen && <div className="grid gap-3 px-3 pb-4 pl-8">{children}</div>}
    </li>
  )
}
