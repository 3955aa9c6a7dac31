import { pickerList } from '@satchel/core/brush-file/picked-files'
import { Camera, Check, Images, RotateCw } from 'lucide-react'
import { type ReactNode, useRef } from 'react'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import { Sheet } from './sheet.tsx'
import { type Photograph, usePhotographs } from './use-photographs.ts'
import { formatClock, useTimeLeft } from './use-time-left.ts'

type OpenProps = { token: string; holder: string; workspace: string; endsAt: string }

export function Open({ token, holder, workspace, endsAt }: OpenProps) {
  const { photographs, add, sendAgain } = usePhotographs(token, holder)
  const left = useTimeLeft(endsAt)
  const there = photographs.filter(({ state }) => state === 'there').length
  return (
    <Sheet title={`Photographs for ${workspace}`}>
      {left > 0 ? (
        <>
          <p>What you take or choose here lands in the ledger on the computer by itself.</p>
          <div className="grid gap-3">
            <Pick camera onFiles={add}>
              <Camera size={18} aria-hidden /> Take a photograph
            </Pick>
            <Pick onFiles={add}>
              <Images size={18} aria-hidden /> Choose pictures
            </Pick>
          </div>
          <p className="text-13 text-quiet">
            Open for <span className="measure">{formatClock(left)}</span> more.
          </p>
        </>
      ) : (
        <p role="status">
          The ten minutes are over, and {plural(there, 'photograph')} arrived. Make a new link on the computer for more.
        </p>
      )}
      {photographs.length > 0 && (
        <ul aria-label="Photographs" className="grid gap-2">
          {photographs.map((each) => (
            <Line key={each.id} photograph={each} onAgain={left > 0 ? () => sendAgain(each) : undefined} />
          ))}
        </ul>
      )}
    </Sheet>
  )
}

const SAID: Record<Photograph['state'], string> = {
  waiting: 'waits',
  going: 'on its way …',
  there: 'arrived',
  failed: 'did not arrive',
}

function Line({ photograph, onAgain }: { photograph: Photograph; onAgain: (() => void) | undefined }) {
  const { file, state, trouble } = photograph
  return (
    <li className="grid gap-1 rounded-4 bg-raised px-3 py-2">
      <span className="flex items-center gap-2">
        <span className="min-w-0 flex-1 truncate">{file.name}</span>
        <span role="status" className="flex items-center gap-1 text-13 text-quiet">
          {state === 'there' && <Check size={18} aria-hidden />} {SAID[state]}
        </span>
      </span>
      {state === 'failed' && (
        <span className="flex flex-wrap items-center gap-2 text-13 text-madder">
          <span className="min-w-0 flex-1 break-words" role="alert">
            {trouble}
          </span>
          {onAgain && (
            <Button onClick={onAgain}>
              <RotateCw size={18} aria-hidden /> Send again
            </Button>
          )}
        </span>
      )}
    </li>
  )
}

type PickProps = { camera?: boolean; onFiles: (files: readonly File[]) => void; children: ReactNode }

/** Photographs as phones give them when they are asked for these kinds: JPEG, whatever they keep them as. */
function Pick({ camera = false, onFiles, children }: PickProps) {
  const input = useRef<HTMLInputElement>(null)
  return (
    <>
      <Button
        kind={camera ? 'primary' : 'plain'}
        className="min-h-12 justify-center"
        onClick={() => input.current?.click()}
      >
        {children}
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        accept={pickerList(['jpeg', 'png'])}
        multiple={!camera}
        {...(camera ? { capture: 'environment' as const } : { 'data-testid': 'choose-photographs' })}
        onChange={(event) => {
          const files = [...(event.target.files ?? [])]
          event.target.value = ''
          onFiles(files)
        }}
      />
    </>
  )
}
