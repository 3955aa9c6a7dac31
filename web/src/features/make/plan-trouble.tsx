import { Button } from '../../components/button.tsx'
import type { PlanEdit } from './use-plan.ts'

/** Why the steps are not saved, and what can be done about it. */
export function PlanTrouble({ edit: { state, save, putOnTop, takeTheirs } }: { edit: PlanEdit }) {
  if (state.kind === 'overtaken')
    return (
      <div
        role="alert"
        className="mb-4 flex flex-wrap items-center gap-3 rounded-10 border border-amber bg-surface p-3 text-13"
      >
        <span className="min-w-0 flex-[1_1_16rem]">
          These steps were changed somewhere else meanwhile. Yours are kept on this page.
        </span>
        <Button onClick={() => void putOnTop()}>Save mine</Button>
        <Button onClick={takeTheirs}>Take the other ones</Button>
      </div>
    )
  if (state.kind === 'unanswered' || state.kind === 'refused')
    return (
      <div
        role="alert"
        className="mb-4 flex flex-wrap items-center gap-3 rounded-10 border border-madder bg-surface p-3 text-13"
      >
        <span className="min-w-0 flex-[1_1_16rem]">
          Not saved: {state.sentence}{' '}
          {state.kind === 'unanswered' && 'It is tried again by itself; nothing is lost meanwhile.'}
        </span>
        <Button onClick={() => void save()}>Save now</Button>
      </div>
    )
  return null
}
