import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useId, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { TextField } from '../../components/field.tsx'
import { type Brush, findTipQuery } from './queries.ts'

export type CopyWish = { name: string; maker: string; tipFrom?: string }

type Props = {
  open: boolean
  onOpenChange: (open: boolean) => void
  brush: Brush
  busy: boolean
  onCopy: (wish: CopyWish) => void
}

/** A copy under another name, signed, perhaps with the tip of another brush. */
export function CopyDialog({ open, onOpenChange, brush, busy, onCopy }: Props) {
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="Copy this brush"
      description="The copy keeps the whole recipe and remembers where it came from. Its history begins anew."
    >
      {open && <CopyForm brush={brush} busy={busy} onCopy={onCopy} />}
    </Dialog>
  )
}

function CopyForm({ brush, busy, onCopy }: Pick<Props, 'brush' | 'busy' | 'onCopy'>) {
  const [name, setName] = useState(`${brush.name}, copy`)
  const [maker, setMaker] = useState(brush.maker)
  const [find, setFind] = useState('')
  const [tip, setTip] = useState<{ id: string; name: string }>()
  const found = useQuery({ ...findTipQuery(find), placeholderData: keepPreviousData })
  const group = useId()
  const empty = name.trim() === ''
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault()
        if (!empty) onCopy({ name: name.trim(), maker: maker.trim(), ...(tip ? { tipFrom: tip.id } : {}) })
      }}
    >
      <TextField
        label="Name"
        value={name}
        maxLength={120}
        error={empty ? 'A name is needed.' : undefined}
        onChange={(event) => setName(event.target.value)}
      />
      <TextField label="Signed by" value={maker} maxLength={120} onChange={(event) => setMaker(event.target.value)} />
      <fieldset className="grid gap-2">
        <legend className="text-13 font-medium text-quiet">Tip</legend>
        <TextField
          label="Take the tip of another brush"
          placeholder="find a brush"
          value={find}
          onChange={(event) => setFind(event.target.value)}
        />
        <ul className="grid max-h-44 gap-1 overflow-y-auto">
          {[{ id: '', name: 'its own tip' }, ...(found.data?.brushes ?? [])].map((each) => (
            <li key={each.id}>
              <label className="flex items-center gap-2">
                <input
                  type="radio"
                  name={group}
                  checked={(tip?.id ?? '') === each.id}
                  onChange={() => setTip(each.id ? each : undefined)}
                />
                {each.id && (
                  <img src={`/api/brushes/${each.id}/tip.png`} alt="" className="well h-8 w-8 object-contain" />
                )}
                {each.name}
              </label>
            </li>
          ))}
        </ul>
      </fieldset>
      <Button kind="primary" type="submit" disabled={empty || busy}>
        Make the copy
      </Button>
    </form>
  )
}
