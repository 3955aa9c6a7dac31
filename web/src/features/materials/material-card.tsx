import { SEAM_VISIBLE } from '@satchel/core/grain/seam'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Trash2 } from 'lucide-react'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { BehaviourMark } from '../../components/behaviour-mark.tsx'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import { toast, toastError } from '../../components/toasts.tsx'
import {
  binMaterial,
  bringBackMaterial,
  type Material,
  materialQuery,
  materialsQuery,
  renameMaterial,
} from '../../data/materials.ts'
import { sourceFromPicture } from '../../data/sources.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { MendDialog } from './mend-dialog.tsx'

/** A grain laid out several times over, or a strip: its name, size, seam, and the brushes that use it. */
export function MaterialCard({ material }: { material: Material }) {
  const { id, kind, name, blobSha, width, height, seamAcross, seamDown, uses } = material
  const [open, setOpen] = useState(false)
  const [mending, setMending] = useState(false)
  const refresh = useRefresh()
  const after = {
    onSettled: () => refresh(materialsQuery.queryKey),
    onError: toastError,
  }
  const rename = useMutation({ mutationFn: (next: string) => renameMaterial(id, next), ...after })
  const bringBack = useMutation({ mutationFn: () => bringBackMaterial(id), ...after })
  const bin = useMutation({
    mutationFn: () => binMaterial(id),
    ...after,
    onSuccess: () => {
      const stay = uses > 0 ? ` ${plural(uses, 'brush', 'brushes')} that use it paint on with it.` : ''
      toast(`"${name}" is in the bin.${stay}`, { action: { label: 'Bring back', run: () => bringBack.mutate() } })
    },
  })
  const navigate = useNavigate()
  const make = useMutation({
    mutationFn: () => sourceFromPicture(blobSha, name),
    onSuccess: ({ id }) => navigate(`/make/${id}`),
    onError: toastError,
  })
  const seam = kind === 'grain' ? Math.max(seamAcross, seamDown) : seamAcross
  return (
    <article className="grid gap-2 rounded-10 border border-line bg-surface p-3">
      {kind === 'grain' ? (
        <div
          role="img"
          aria-label={`${name}, repeated`}
          className="well h-36"
          style={{ backgroundImage: `url(/api/pictures/${blobSha})`, backgroundSize: '96px' }}
        />
      ) : (
        <img src={`/api/pictures/${blobSha}`} alt={name} className="well h-24 w-full object-contain" />
      )}
      <input
        key={name}
        aria-label={`Name of ${name}`}
        defaultValue={name}
        maxLength={120}
        onBlur={(event) => {
          const next = event.target.value.trim()
          if (next && next !== name) rename.mutate(next)
          else event.target.value = name
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur()
        }}
        className="rounded-4 border border-transparent bg-transparent font-title text-18 hover:border-line focus:border-line focus:bg-raised"
      />
      <p className="flex flex-wrap items-baseline gap-x-3 text-13 text-quiet">
        <span className="measure">
          {width} × {height}
        </span>
        <span className={seam > SEAM_VISIBLE ? 'text-amber' : ''}>
          seam <span className="measure">{seam.toFixed(2)}</span>
          {seam > SEAM_VISIBLE ? ', it shows' : ''}
        </span>
      </p>
      <div className="flex flex-wrap items-center justify-between gap-x-2">
        {uses === 0 ? (
          <span className="text-13 text-quiet">no brush uses it</span>
        ) : (
          <button
            type="button"
            aria-expanded={open}
            className="text-13 text-saddle underline"
            onClick={() => setOpen(!open)}
          >
            {plural(uses, 'brush uses it', 'brushes use it')}
          </button>
        )}
        {kind === 'grain' && (
          <Button kind="quiet" className="text-13" onClick={() => setMending(true)}>
            Mend<span className="sr-only"> {name}</span>
          </Button>
        )}
        <Button kind="quiet" className="text-13" onClick={() => make.mutate()} disabled={make.isPending}>
          Make from it<span className="sr-only">: {name}</span>
        </Button>
        <Button kind="quiet" className="text-13" onClick={() => bin.mutate()} disabled={bin.isPending}>
          <Trash2 size={18} aria-hidden /> Bin<span className="sr-only"> {name}</span>
        </Button>
      </div>
      {open && <Uses id={id} />}
      {mending && <MendDialog grain={material} onClose={() => setMending(false)} />}
    </article>
  )
}

function Uses({ id }: { id: string }) {
  const material = useQuery(materialQuery(id))
  if (material.isError) return <p className="text-13 text-madder">{material.error.message}</p>
  return (
    <ul className="grid gap-1 text-13">
      {material.data?.brushes.map((brush) => (
        <li key={brush.id}>
          <Link to={`/tune/${brush.id}`} className="hover:text-saddle">
            {brush.name}
          </Link>{' '}
          <BehaviourMark behaviour={brush.behaviour} />
        </li>
      ))}
    </ul>
  )
}
