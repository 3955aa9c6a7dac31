import { useMutation, useQuery } from '@tanstack/react-query'
import { Copy } from 'lucide-react'
import { useEffect } from 'react'
import { Link } from 'react-router'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { plural } from '../../components/format.ts'
import { QrCode } from '../../components/qr-code.tsx'
import { LoadError, Loading } from '../../components/states.tsx'
import { toast, toastError } from '../../components/toasts.tsx'
import { endPhoneLink, makePhoneLink, type PhoneLink, phoneLinkQuery } from '../../data/phone-links.ts'
import { formatClock, useTimeLeft } from './use-time-left.ts'

/** A link for one phone, as a code to point its camera at; what comes through it lands in the ledger. */
export function PhoneDialog({ onClose }: { onClose: () => void }) {
  const made = useMutation({ mutationFn: makePhoneLink })
  const { mutate } = made
  useEffect(() => mutate(), [mutate])
  const end = () => {
    if (made.data) endPhoneLink(made.data.id).catch(toastError)
  }
  const close = () => {
    end()
    onClose()
  }
  const makeAnother = () => {
    end()
    mutate()
  }
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && close()}
      title="From a phone"
      description="Photographs taken on a phone land in the ledger by themselves."
    >
      {made.isError && <LoadError error={made.error} onRetry={() => mutate()} />}
      {(made.isPending || made.isIdle) && <Loading what="a link" />}
      {made.data && <Open key={made.data.id} link={made.data} onAnother={makeAnother} onClose={close} />}
    </Dialog>
  )
}

type OpenProps = { link: PhoneLink; onAnother: () => void; onClose: () => void }

function Open({ link: { id, link, endsAt, isForThisMachine }, onAnother, onClose }: OpenProps) {
  const state = useQuery(phoneLinkQuery(id))
  const left = useTimeLeft(endsAt)
  const photographs = state.data?.photographs ?? 0
  const copy = () => {
    navigator.clipboard.writeText(link).then(() => toast('The link is copied.'), toastError)
  }
  return (
    <div className="grid gap-4">
      {left > 0 && !state.data?.isOpened && (
        <>
          <div className="grid justify-items-center gap-3">
            <div className="rounded-10 border border-line bg-white p-4">
              <QrCode text={link} label="The link as a code for a camera" className="w-60" />
            </div>
            <p className="text-center">
              Point the phone’s camera at it. The first phone that opens it is the only one, for{' '}
              <span className="measure">{formatClock(left)}</span> more.
            </p>
          </div>
          <div className="flex items-center gap-2">
            <input
              readOnly
              aria-label="The link"
              data-testid="phone-link"
              value={link}
              onFocus={(event) => event.target.select()}
              className="measure min-w-0 flex-1 rounded-4 border border-line bg-raised px-2.5 py-1.5"
            />
            <Button onClick={copy}>
              <Copy size={18} aria-hidden /> Copy
            </Button>
          </div>
          {isForThisMachine && (
            <p className="rounded-4 border border-amber p-3 text-13 text-amber">
              This address leads to this computer alone: a phone cannot reach it. Start Gentle Satchel with{' '}
              <code>./start --network</code>, and open it at the address it tells.
            </p>
          )}
        </>
      )}
      {left > 0 && state.data?.isOpened && (
        <p role="status" className="text-center">
          A phone has opened the link. It may bring photographs for <span className="measure">{formatClock(left)}</span>{' '}
          more; closing this ends it.
        </p>
      )}
      {left === 0 && (
        <p role="status" className="text-center">
          The link has ended.
        </p>
      )}
      {photographs > 0 && (
        <p role="status" className="text-center font-medium" data-testid="phone-arrived">
          {plural(photographs, 'photograph')} arrived.
        </p>
      )}
      <div className="flex flex-wrap justify-center gap-2">
        {(left === 0 || state.data?.isOpened) && <Button onClick={onAnother}>Make another link</Button>}
        {photographs > 0 && (
          <Link to="/gather" onClick={onClose} className="rounded-4 px-3 py-1.5 underline">
            Go to the ledger
          </Link>
        )}
      </div>
    </div>
  )
}
