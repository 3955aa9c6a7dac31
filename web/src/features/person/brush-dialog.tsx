import { useQuery } from '@tanstack/react-query'
import { Brush, Download } from 'lucide-react'
import { BehaviourMark } from '../../components/behaviour-mark.tsx'
import { Button, buttonLook } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { formatBytes, plural } from '../../components/format.ts'
import { HelpText } from '../../components/help-text.tsx'
import { arrivesQuery, downloadOf, givenBy, type HandOutPage } from '../../data/hand-out-page.ts'
import { toHelp } from '../../data/help.ts'
import { asOf, type Taker } from './get-files.tsx'
import { OPEN } from './remembered.ts'

type Props = {
  page: HandOutPage
  token: string
  brush: HandOutPage['brushes'][number]
  taker: Taker | undefined
  picture: (path: string) => string
  onTry: () => void
  onClose: () => void
}

/** A brush by itself: its stroke, its frames, what is said of it, and what arrives in the app that was chosen. */
export function BrushDialog({ page, token, brush, taker, picture, onTry, onClose }: Props) {
  const { id, name, frames, sizePx, behaviour, note } = brush
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      shape="wide"
      title={name}
      description={`${Math.round(sizePx)} px${frames > 1 ? `, ${frames} frames` : ''}`}
    >
      <span className="well grid h-24 place-content-center overflow-clip">
        <img src={picture(`strokes/${id}`)} alt={`Stroke of ${name}`} className="max-h-20 max-w-full object-contain" />
      </span>
      <ul aria-label="Frames" className="flex max-h-52 flex-wrap gap-2 overflow-y-auto">
        {Array.from({ length: frames }, (_, at) => at).map((at) => (
          <li key={at} className="well grid size-20 place-content-center p-1">
            <img
              src={picture(`brushes/${id}/frames/${at}`)}
              alt={frames > 1 ? `Frame ${at + 1}` : 'Its picture'}
              loading="lazy"
              decoding="async"
              className="max-h-[72px] max-w-[72px] object-contain"
            />
          </li>
        ))}
      </ul>
      <BehaviourMark behaviour={behaviour} />
      {note.length > 0 && <HelpText nodes={toHelp(note)} under={2} />}
      {taker && <Arrives {...{ page, token, taker }} brushId={id} />}
      <div className="flex flex-wrap gap-2">
        <Button kind="primary" onClick={onTry}>
          <Brush size={18} aria-hidden /> Try it
        </Button>
      </div>
    </Dialog>
  )
}

function Arrives({ page, token, taker, brushId }: Pick<Props, 'page' | 'token'> & { taker: Taker; brushId: string }) {
  const as = asOf(taker)
  const arrives = useQuery(arrivesQuery(token, as, givenBy(page)))
  const its = arrives.data?.brushes.find(({ id }) => id === brushId)
  const forWhom = taker === OPEN ? 'any program' : taker.name
  return (
    <section className="grid gap-2" aria-label={`In ${forWhom}`}>
      <h3 className="font-title text-18">In {forWhom}</h3>
      {arrives.isPending && <p className="text-quiet">Fetching what arrives …</p>}
      {arrives.isError && <p role="alert">{arrives.error.message}</p>}
      {its?.refused && (
        <p>
          It could not be made for {forWhom}: {its.refused}
        </p>
      )}
      {its?.arrives && (
        <>
          <p>
            Painted there it is <span className="measure">{its.arrives.likeness}</span> of 100 like itself.
          </p>
          <Words title="Other than here" words={its.arrives.approximated} />
          <Words title="Not there" words={its.arrives.left} />
          <Words title="As here" words={its.arrives.kept} />
        </>
      )}
      {taker === OPEN && (
        <p>Its pictures, its size and its spacing; other settings stay in the file for Gentle Satchel.</p>
      )}
      {its && its.files > 0 && (
        <p>
          <a href={downloadOf(token, { as, of: { kind: 'brush', id: brushId } })} download className={buttonLook()}>
            <Download size={18} aria-hidden /> Get this one: {plural(its.files, 'file')}, {formatBytes(its.bytes)}
          </a>
        </p>
      )}
    </section>
  )
}

function Words({ title, words }: { title: string; words: readonly string[] }) {
  if (words.length === 0) return null
  return (
    <p>
      <span className="font-medium">{title}:</span> {words.join('; ')}.
    </p>
  )
}
