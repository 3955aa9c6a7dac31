import { describeDifferences } from '@satchel/core/alike/differences'
import { SEAM_VISIBLE } from '@satchel/core/grain/seam'
import { memo } from 'react'
import type { LedgerLine } from '../../data/gather.ts'
import { NewerNote } from './newer/newer-note.tsx'
import { TipPicture } from './tip-picture.tsx'

const OUTCOME: Record<LedgerLine['outcome'], { mark: string; word: string; look: string }> = {
  take: { mark: '●', word: 'take', look: 'text-moss' },
  skip: { mark: '○', word: 'skip', look: 'text-quiet' },
  refuse: { mark: '✕', word: 'refused', look: 'text-madder' },
}

export type LineActions = {
  onOutcome: (line: LedgerLine, outcome: 'take' | 'skip') => void
  onSet: (line: LedgerLine, setName: string) => void
  onShrink: (line: LedgerLine, smaller: boolean) => void
  onUse: (line: LedgerLine, use: LedgerLine['use']) => void
  /** A source of its picture. */
  onMake: (line: LedgerLine) => void
}

/** One line of the ledger: picture, name, size, what it is, where it goes, and what happens with it. */
export const Line = memo(function Line({
  line,
  heavyPx,
  actions,
}: {
  line: LedgerLine
  heavyPx: number
  actions: LineActions
}) {
  const isBrush = line.frames > 0
  const { mark, word, look } = OUTCOME[line.outcome]
  const heavy = Math.max(line.width ?? 0, line.height ?? 0) > heavyPx
  return (
    <div className="grid min-h-[60px] grid-cols-[44px_minmax(0,1.2fr)_72px_104px_minmax(0,1.6fr)_minmax(0,0.8fr)_96px] py-2 items-center gap-3 border-b border-line px-3">
      {line.picture ? (
        <TipPicture blobSha={line.picture} reading={line.reading ?? 'dark'} alt="" />
      ) : (
        <span className="well h-11 w-11" />
      )}
      <span className="min-w-0">
        <span className="block truncate font-medium" title={line.path}>
          {line.name}
        </span>
        <span className="block truncate text-13 text-quiet">
          {line.kindWord}
          {line.frames > 1 && `, ${line.frames} frames`}
          {line.grainName && `, with grain "${line.grainName}"`}
          {line.picture && (
            <>
              {' · '}
              <button
                type="button"
                onClick={() => actions.onMake(line)}
                className="text-saddle underline underline-offset-2"
              >
                make from it<span className="sr-only">: {line.name}</span>
              </button>
            </>
          )}
        </span>
      </span>
      <UseChoice line={line} onUse={(use) => actions.onUse(line, use)} />
      <span className="grid text-13">
        {line.width ? (
          <span className={`measure ${heavy ? 'text-amber' : ''}`}>
            {line.width} × {line.height}
          </span>
        ) : null}
        {(heavy || line.shrunk) && (
          <button
            type="button"
            onClick={() => actions.onShrink(line, !line.shrunk)}
            className="justify-self-start text-12 text-saddle underline underline-offset-2"
          >
            {line.shrunk ? 'use the full size' : `smaller copy, ${heavyPx}`}
          </button>
        )}
      </span>
      <span className={`min-w-0 break-words text-13 ${line.outcome === 'refuse' ? 'text-madder' : 'text-quiet'}`}>
        {line.taken ? (
          <NewerNote taken={line.taken} decision={line.decision} />
        ) : line.duplicate ? (
          <DuplicateNote line={line} />
        ) : (
          line.reason || <SeamNote line={line} />
        )}
      </span>
      {isBrush && line.use === 'grain' ? (
        <span className="text-13 text-quiet">to the grains</span>
      ) : line.taken?.brushId && line.decision?.way !== 'both' ? (
        <span className="text-13 text-quiet">lies where it is</span>
      ) : isBrush ? (
        <input
          aria-label={`Set of ${line.name}`}
          defaultValue={line.setName}
          key={line.setName}
          placeholder="no set"
          list="set-names"
          onBlur={(event) => {
            if (event.target.value.trim() !== line.setName) actions.onSet(line, event.target.value.trim())
          }}
          onKeyDown={(event) => {
            if (event.key === 'Enter') event.currentTarget.blur()
          }}
          className="w-full rounded-4 border border-transparent bg-transparent px-1.5 py-1 hover:border-line focus:border-line focus:bg-raised"
        />
      ) : (
        <span className="text-13 text-quiet">stays out</span>
      )}
      {isBrush ? (
        <button
          type="button"
          aria-pressed={line.outcome === 'take'}
          aria-label={`${line.outcome === 'take' ? 'Take' : 'Skip'} ${line.name}`}
          onClick={() => actions.onOutcome(line, line.outcome === 'take' ? 'skip' : 'take')}
          className={`rounded-4 border border-line bg-raised px-2 py-1 text-left font-medium hover:border-saddle ${look}`}
        >
          <span aria-hidden>{mark}</span> {word}
        </button>
      ) : (
        <span className={`px-2 font-medium ${look}`}>
          <span aria-hidden>{mark}</span> {line.outcome === 'skip' ? 'skipped' : word}
        </span>
      )}
    </div>
  )
})

const USES: readonly { use: LedgerLine['use']; word: string }[] = [
  { use: 'tip', word: 'tip' },
  { use: 'grain', word: 'grain' },
  { use: 'strip', word: 'strip' },
]

/** What the picture is for: guessed from its shape and seam, until the curator says otherwise. */
function UseChoice({ line, onUse }: { line: LedgerLine; onUse: (use: LedgerLine['use']) => void }) {
  const isPicture = line.frames === 1 && line.kind !== 'pack'
  if (!isPicture) return <span className="text-13 text-quiet">{line.frames > 0 ? 'brush' : ''}</span>
  return (
    <select
      aria-label={`${line.name} is a`}
      value={line.use}
      onChange={(event) => onUse(event.target.value as LedgerLine['use'])}
      className="rounded-4 border border-line bg-raised px-1 py-1 text-13"
    >
      {USES.map(({ use, word }) => (
        <option key={use} value={use}>
          {word}
        </option>
      ))}
    </select>
  )
}

function SeamNote({ line }: { line: LedgerLine }) {
  if (line.use !== 'grain' || line.seamAcross === null || line.seamDown === null) return null
  const worst = Math.max(line.seamAcross, line.seamDown)
  return (
    <span className={worst > SEAM_VISIBLE ? 'text-amber' : ''}>
      Seam <span className="measure">{worst.toFixed(2)}</span>, {worst > SEAM_VISIBLE ? 'it shows' : 'it does not show'}
    </span>
  )
}

function DuplicateNote({ line }: { line: LedgerLine }) {
  if (!line.duplicate) return null
  const { of, how, name, picture, differs } = line.duplicate
  const where = of === 'library' ? 'in the library' : 'in this ledger'
  return (
    <span className="flex items-center gap-2">
      {picture && <TipPicture blobSha={picture.blobSha} reading={picture.reading} alt={`"${name}"`} />}
      <span>
        <strong className="text-amber">{how === 'exact' ? 'Same pixels' : describeDifferences(differs ?? [])}</strong>:
        "{name}" {where}
      </span>
    </span>
  )
}
