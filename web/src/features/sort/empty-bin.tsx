import { Trash2 } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { plural } from '../../components/format.ts'
import { emptyBin } from '../../data/library.ts'
import { useLibraryChange } from './use-library-change.ts'

/** The one thing that cannot be undone, so it asks first and says what goes. */
export function EmptyBin({ count }: { count: number }) {
  const [asking, setAsking] = useState(false)
  const change = useLibraryChange()
  const words = plural(count, 'brush', 'brushes')
  return (
    <>
      <Button kind="danger" disabled={count === 0} onClick={() => setAsking(true)}>
        <Trash2 size={18} aria-hidden /> Empty the bin
      </Button>
      <Dialog
        open={asking}
        onOpenChange={setAsking}
        title="Empty the bin?"
        description={`${words} with all versions go for good. Releases keep what they hold.`}
      >
        <div className="flex justify-end gap-2">
          <Button onClick={() => setAsking(false)}>Leave it</Button>
          <Button
            kind="danger"
            onClick={() => {
              setAsking(false)
              void change(emptyBin, { said: `${words} deleted for good.` })
            }}
          >
            Delete {words} for good
          </Button>
        </div>
      </Dialog>
    </>
  )
}
