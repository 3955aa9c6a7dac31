import { Pause, Play, Replace } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import type { Brush, Facts } from '../../../data/brush.ts'

const FRAME_MS = 260 // slow enough to see each frame, quick enough to see them differ

type Props = { brush: Brush; recipe: Facts['recipe']; onSwap: () => void }

/** The brush's pictures: several can be looked at one by one, or played. */
export function TipSection({ brush, recipe, onSwap }: Props) {
  const { pictures } = brush
  const player = useFrames(pictures.length)
  const shown = pictures[player.at]
  const address = (blobSha: string, side: number) =>
    `/api/pictures/${blobSha}/tip.png?reading=${recipe.colour.reading}&side=${side}`
  const what = recipe.path.ribbon ? 'Strip' : 'Tip'
  return (
    <section>
      <h3 className="mb-1 flex items-center justify-between text-13 font-medium text-quiet">
        {what}
        <button type="button" onClick={onSwap} className="inline-flex items-center gap-1 text-saddle underline">
          <Replace size={14} aria-hidden /> Swap<span className="sr-only"> the tip</span>
        </button>
      </h3>
      {shown && (
        <div className="well grid h-24 max-w-[360px] place-content-center">
          <img
            src={address(shown.blobSha, 256)}
            alt={`Frame ${player.at + 1}`}
            className="max-h-[88px] max-w-[184px]"
          />
        </div>
      )}
      <p className="mt-1 flex items-center justify-between">
        <span className="measure text-quiet">
          {shown?.width} × {shown?.height} px
        </span>
        {pictures.length > 1 && (
          <button
            type="button"
            aria-pressed={player.isPlaying}
            onClick={player.toggle}
            className="inline-flex items-center gap-1 text-13 text-saddle underline"
          >
            {player.isPlaying ? <Pause size={14} aria-hidden /> : <Play size={14} aria-hidden />}
            {player.isPlaying ? 'Pause' : 'Play'}
            <span className="sr-only"> the frames</span>
          </button>
        )}
      </p>
      {pictures.length > 1 && (
        <Link to={`/make/frames/${brush.id}`} className="text-13 text-saddle underline">
          Order and evenness
        </Link>
      )}
      {pictures.length > 1 && (
        <ul aria-label={`${pictures.length} frames`} className="mt-1 flex flex-wrap gap-1.5">
          {pictures.map((picture, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: frames may repeat a picture; their place is what they are
            <li key={i}>
              <button
                type="button"
                aria-label={`Show frame ${i + 1}`}
                aria-current={player.at === i}
                onClick={() => player.show(i)}
                className={`well grid h-9 w-9 place-content-center ${player.at === i ? 'outline-2 outline-saddle' : ''}`}
              >
                <img src={address(picture.blobSha, 64)} alt="" className="max-h-8 max-w-8" />
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

/** Which frame is shown: the one chosen, or the next one after a while. */
function useFrames(count: number) {
  const [at, setAt] = useState(0)
  const [isPlaying, setPlaying] = useState(false)
  useEffect(() => {
    if (!isPlaying) return
    const timer = setInterval(() => setAt((now) => (now + 1) % count), FRAME_MS)
    return () => clearInterval(timer)
  }, [isPlaying, count])
  return {
    at: at % count,
    isPlaying,
    toggle: () => setPlaying((on) => !on),
    show: (frame: number) => {
      setPlaying(false)
      setAt(frame)
    },
  }
}
