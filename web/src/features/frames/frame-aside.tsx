import { Scale } from 'lucide-react'
import { type ReactNode, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Choices } from '../../components/controls.tsx'
import { plural } from '../../components/format.ts'
import type { ComparedFrames, FramesChange } from '../../data/frames.ts'

/** Fewer frames than this look repeated in a stroke; common practice, no source. */
const FRAMES_ENOUGH = 3

const Section = ({ title, children }: { title: string; children: ReactNode }) => (
  <section className="grid gap-2">
    <h2 className="text-13 font-medium text-quiet">{title}</h2>
    {children}
  </section>
)

/** Which frames stand out beside the others, in words. */
export function StandTogether({ compared, count }: { compared: ComparedFrames | undefined; count: number }) {
  const sentences = compared?.sentences ?? []
  return (
    <Section title="How they stand together">
      <div role="status">
        {compared === undefined ? (
          <p className="text-13 text-quiet">measuring …</p>
        ) : sentences.length > 0 ? (
          <ul className="grid gap-1 text-13 text-amber">
            {sentences.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
        ) : (
          <p className="text-13 text-moss">
            {count > 2 ? 'They belong together.' : 'Too few to tell which one stands out.'}
          </p>
        )}
        {compared?.alike.map((sentence) => (
          <p key={sentence} className="mt-1 text-13 text-quiet">
            {sentence}
          </p>
        ))}
        {count > 1 && count < FRAMES_ENOUGH && (
          <p className="mt-1 text-13 text-quiet">With fewer than three a stroke looks repeated.</p>
        )}
      </div>
    </Section>
  )
}

type Even = NonNullable<FramesChange['even']>

/** What makes frames alike, each on its own. */
export function EvenOut({ count, isBusy, onEven }: { count: number; isBusy: boolean; onEven: (even: Even) => void }) {
  const [even, setEven] = useState<Even>({ size: true, align: 'centres', tone: true })
  return (
    <Section title="Even them out">
      {(['size', 'tone'] as const).map((what) => (
        <label key={what} className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={even[what]}
            onChange={(event) => setEven({ ...even, [what]: event.target.checked })}
          />
          {what === 'size' ? 'one size' : 'one tone and contrast'}
        </label>
      ))}
      <Choices
        label="Lay them by"
        value={even.align}
        choices={[
          { value: 'centres', label: 'their middles' },
          { value: 'base lines', label: 'their base lines' },
          { value: 'no', label: 'as they are' },
        ]}
        onChange={(align) => setEven({ ...even, align })}
      />
      <Button kind="primary" disabled={isBusy || count < 2} onClick={() => onEven(even)}>
        <Scale size={18} aria-hidden /> Even out {plural(count, 'frame')}
      </Button>
    </Section>
  )
}

/** Shadows drawn as grey, and how they become black. */
export function Shadows({ count, isBusy, onBlacken }: { count: number; isBusy: boolean; onBlacken: () => void }) {
  if (count === 0) return null
  return (
    <Section title="Shadows">
      <p className="text-13 text-amber">
        {plural(count, 'frame has', 'frames have')} a shadow drawn as grey: it would take on the colour that is painted
        with.
      </p>
      <Button disabled={isBusy} onClick={onBlacken}>
        Make them black
      </Button>
    </Section>
  )
}

type LeftOutProps = {
  frames: ComparedFrames['leftOut']
  reading: string
  isBusy: boolean
  onPutBack: (frame: ComparedFrames['leftOut'][number]) => void
}

/** Frames of earlier versions that the brush has no more. */
export function LeftOut({ frames, reading, isBusy, onPutBack }: LeftOutProps) {
  if (frames.length === 0) return null
  return (
    <Section title="Left out before">
      <ul className="flex flex-wrap gap-2">
        {frames.map((frame) => (
          <li key={frame.pixelSha}>
            <button
              type="button"
              disabled={isBusy}
              aria-label={`Put back frame ${frame.place + 1} of version ${frame.version}`}
              title={`Frame ${frame.place + 1} of version ${frame.version}`}
              onClick={() => onPutBack(frame)}
              className="grid rounded-4 border border-line bg-surface p-1 text-12 hover:bg-raised"
            >
              <span className="well grid h-14 w-14 place-content-center">
                <img
                  src={`/api/pictures/${frame.blobSha}/tip.png?reading=${reading}&side=64`}
                  alt=""
                  className="max-h-12 max-w-12"
                />
              </span>
              put back
            </button>
          </li>
        ))}
      </ul>
    </Section>
  )
}
