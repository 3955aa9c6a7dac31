import { useQuery, useQueryClient } from '@tanstack/react-query'
import { format } from 'date-fns'
import { Download, KeySquare, Upload } from 'lucide-react'
import { useRef, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { saveFile } from '../../components/save-file.ts'
import { LoadError, Loading } from '../../components/states.tsx'
import { toastError } from '../../components/toasts.tsx'
import { exportKey, importKey, rotateKey, type SigningKeys, signingQuery } from '../../data/account.ts'

type Props = { workspace: string; isOwner: boolean; onClose: () => void }

/** The key by which a workspace signs its releases: what others know it by, and what its owner does with it. */
export function SigningDialog({ workspace, isOwner, onClose }: Props) {
  const keys = useQuery(signingQuery)
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Signing key"
      description={`Every release of ${workspace} is signed by it. Tell people its fingerprint in another way than with the pack; then they can see that nobody changed it.`}
    >
      {keys.isPending && <Loading what="the key" />}
      {keys.isError && <LoadError error={keys.error} onRetry={() => void keys.refetch()} />}
      {keys.data && <Keys keys={keys.data} isOwner={isOwner} />}
    </Dialog>
  )
}

function Keys({ keys: { keys }, isOwner }: { keys: SigningKeys; isOwner: boolean }) {
  const [current, ...retired] = keys
  if (!current) return null
  return (
    <>
      <div className="grid gap-1">
        <h3 className="text-13 font-medium text-quiet">
          Fingerprint, since {format(new Date(current.createdAt), 'd MMMM yyyy')}
        </h3>
        <p
          className="measure select-all break-words rounded-4 border border-line bg-raised p-3"
          data-testid="fingerprint"
        >
          {current.fingerprint}
        </p>
      </div>
      {isOwner ? <Acts /> : <p className="text-13 text-quiet">Only the owner of the workspace can change it.</p>}
      {retired.length > 0 && (
        <div className="grid gap-1">
          <h3 className="text-13 font-medium text-quiet">Earlier keys: what they signed stays valid</h3>
          <ul className="grid gap-1">
            {retired.map(({ id, fingerprint, retiredAt }) => (
              <li key={id} className="text-13">
                <span className="measure break-words">{fingerprint}</span>
                {retiredAt && `, until ${format(new Date(retiredAt), 'd MMMM yyyy')}`}
              </li>
            ))}
          </ul>
        </div>
      )}
    </>
  )
}

/** What the owner can do with the key. A new one is asked for twice: people know the old one. */
function Acts() {
  const client = useQueryClient()
  const file = useRef<HTMLInputElement>(null)
  const [asking, setAsking] = useState(false)
  const change = async (act: () => Promise<SigningKeys>) => {
    try {
      client.setQueryData(signingQuery.queryKey, await act())
      setAsking(false)
    } catch (error) {
      toastError(error)
    }
  }
  const save = async () => {
    try {
      const { pem } = await exportKey()
      saveFile(new Blob([pem], { type: 'application/x-pem-file' }), 'signing-key.pem')
    } catch (error) {
      toastError(error)
    }
  }
  return (
    <div className="grid gap-2">
      <div className="flex flex-wrap gap-2">
        <Button onClick={() => void save()}>
          <Download size={18} aria-hidden /> Export it
        </Button>
        <Button onClick={() => file.current?.click()}>
          <Upload size={18} aria-hidden /> Take in a key
        </Button>
        <Button kind="danger" onClick={() => setAsking(true)}>
          <KeySquare size={18} aria-hidden /> Make a new key
        </Button>
        <input
          ref={file}
          type="file"
          accept=".pem"
          aria-label="A signing key that was exported"
          className="sr-only"
          onChange={(event) => {
            const [chosen] = event.target.files ?? []
            event.target.value = ''
            if (chosen) void change(async () => importKey(await chosen.text()))
          }}
        />
      </div>
      <p className="text-13 text-quiet">Keep an export where nobody else gets at it: whoever has it signs as you.</p>
      {asking && (
        <div role="alert" className="grid gap-2 rounded-4 border border-line p-3">
          <p>
            From then on releases are signed by another key, with another fingerprint. Those who know this one have to
            be told.
          </p>
          <div className="flex gap-2">
            <Button kind="danger" onClick={() => void change(rotateKey)}>
              Sign with a new key
            </Button>
            <Button kind="quiet" onClick={() => setAsking(false)}>
              Keep this one
            </Button>
          </div>
        </div>
      )}
    </div>
  )
}
