import { Check, Copy } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { QrCode } from '../../components/qr-code.tsx'
import { toastError } from '../../components/toasts.tsx'

/** A link, to be copied, or read by a phone's camera. */
export function LinkDialog({
  shown,
  onClose,
}: {
  shown: { name: string; link: string } | undefined
  onClose: () => void
}) {
  const [copied, setCopied] = useState(false)
  const copy = async () => {
    if (!shown) return
    await navigator.clipboard.writeText(shown.link)
    setCopied(true)
  }
  const close = () => {
    setCopied(false)
    onClose()
  }
  return (
    <Dialog
      open={shown !== undefined}
      onOpenChange={(open) => !open && close()}
      title="The link is ready"
      description={`For ${shown?.name ?? ''}. Whoever has it can open it; it can be shown again under People.`}
    >
      <output data-testid="hand-out-link" className="measure break-all rounded-4 border border-line bg-raised p-3">
        {shown?.link}
      </output>
      {shown && (
        <QrCode
          text={shown.link}
          label={`The link of ${shown.name} as a code for a phone`}
          className="w-44 justify-self-center self-center"
        />
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={() => void copy().catch(toastError)}>
          {copied ? <Check size={18} aria-hidden /> : <Copy size={18} aria-hidden />}{' '}
          {copied ? 'Copied' : 'Copy the link'}
        </Button>
        <Button kind="primary" onClick={close}>
          Done
        </Button>
      </div>
    </Dialog>
  )
}
