import { FIRST_STROKE_NAMES, FIRST_STROKES, type FirstStroke } from '@satchel/core/make/first-stroke'
import { Choices } from '../../components/controls.tsx'
import { PixelsCanvas } from '../../components/pixels-canvas.tsx'
import type { MakeShown } from '../../workers/make/protocol.ts'

type Props = {
  shown: MakeShown
  /** The brush that was made of it, whose recipe it strokes with. */
  brushName: string | undefined
  /** Which of several marks is tried. */
  at: { part: number; count: number } | undefined
  onNext: () => void
  /** How it was told to stroke at first. */
  chosen: FirstStroke | undefined
  /** Undefined where there is no choice. */
  onStroke: ((stroke: FirstStroke) => void) | undefined
}

/** The mark as it stamps and as it strokes; of one that is no brush yet, how it is to stroke at first. */
export function TriedMark({ shown, brushName, at, onNext, chosen, onStroke }: Props) {
  const stroke = chosen ?? shown.proposed
  return (
    <div
      className="grid gap-3 sm:grid-cols-[auto_minmax(0,1fr)]"
      data-ran={shown.ran}
      data-ms={shown.ms.toFixed(0)}
      data-testid="tried"
    >
      <figure>
        <PixelsCanvas pixels={shown.stamp} label="The mark as it stamps" className="well h-[112px] w-[112px]" />
        <figcaption className="mt-1 flex items-center justify-between text-12 text-quiet">
          {at ? (
            <button type="button" className="text-saddle underline" onClick={onNext}>
              {at.part + 1} of {at.count}, next
            </button>
          ) : (
            'stamp'
          )}
        </figcaption>
      </figure>
      <figure className="min-w-0">
        <PixelsCanvas
          pixels={shown.stroke}
          label="The mark as it strokes"
          className="well h-[112px] w-full object-contain"
        />
        {brushName === undefined && stroke && onStroke ? (
          <figcaption className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-1 text-12 text-quiet">
            <Choices
              label="How it strokes at first"
              isUnlabelled
              value={stroke}
              choices={FIRST_STROKE_NAMES.map((value) => ({
                value,
                label: value === shown.proposed ? `${FIRST_STROKES[value].word}, proposed` : FIRST_STROKES[value].word,
              }))}
              onChange={onStroke}
            />
            <span className="min-w-0 flex-[1_1_8rem]">{FIRST_STROKES[stroke].about}</span>
          </figcaption>
        ) : (
          <figcaption className="mt-1 text-12 text-quiet">
            {brushName === undefined ? 'stroke, with a plain recipe' : `stroke, with the recipe of "${brushName}"`}
          </figcaption>
        )}
      </figure>
    </div>
  )
}
