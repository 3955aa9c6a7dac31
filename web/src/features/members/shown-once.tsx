import { Copy } from 'lucide-react'
import { Button } from '../../components/button.tsx'
import { toast, toastError } from '../../components/toasts.tsx'

type Props = { what: string; secret: string; words: string; onDone: () => void }

/** A secret that is shown once, to be taken along. */
export function ShownOnce({ what, secret, words, onDone }: Props) {
  return (
    <>
      <p>{words}</p>
      <p className="measure select-all break-all rounded-4 border border-line bg-raised p-3" data-testid="secret">
        {secret}
      </p>
      <div className="flex justify-end gap-3">
        <Button
          onClick={() =>
            void navigator.clipboard.writeText(secret).then(() => toast(`The ${what} is copied.`), toastError)
          }
        >
          <Copy size={18} aria-hidden /> Copy the {what}
        </Button>
        <Button kind="primary" onClick={onDone}>
          Done
        </Button>
      </div>
    </>
  )
}
