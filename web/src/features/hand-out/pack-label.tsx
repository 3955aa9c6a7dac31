import { Link } from 'react-router'
import { plural } from '../../components/format.ts'
import { coverPicture } from '../../data/packs.ts'

type PackLine = {
  id: string
  title: string
  maker: string
  sets: number
  brushes: number
  latest: string | null
  out: number
  coverBrushId: string | null
  coverSha: string | null
}

/** A pack as a luggage label. */
export function PackLabel({ pack }: { pack: PackLine }) {
  return (
    <Link
      to={`/hand-out/${pack.id}`}
      className="flex overflow-clip rounded-r-10 rounded-l-[28px] border border-line bg-surface shadow-lift hover:border-saddle"
    >
      <span className="grid w-14 place-content-center border-r border-dashed border-line">
        <span className="eyelet !h-5 !w-5 !border-4" aria-hidden />
      </span>
      <span className="grid min-w-0 flex-1 gap-2 p-4">
        <span className="truncate font-title text-24 leading-tight">{pack.title}</span>
        <span className={`well grid place-content-center overflow-clip ${pack.coverSha ? 'h-36' : 'h-16'}`}>
          {pack.coverSha ? (
            <img src={coverPicture(pack.id, pack.coverSha)} alt="" className="h-36 w-full object-cover" />
          ) : pack.coverBrushId ? (
            <img src={`/api/brushes/${pack.coverBrushId}/stroke.png?size=label`} alt="" className="h-15" />
          ) : (
            <span className="text-13 text-[#555]">no cover yet</span>
          )}
        </span>
        <span className="text-quiet">{pack.maker || 'no maker yet'}</span>
        <span className="measure text-quiet">
          {plural(pack.brushes, 'brush', 'brushes')} in {plural(pack.sets, 'set')}
        </span>
        <span className="flex gap-4 text-13">
          <span>{pack.latest ? `release ${pack.latest}` : 'not released yet'}</span>
          <span className={pack.out > 0 ? 'text-moss' : 'text-quiet'}>{pack.out} out</span>
        </span>
      </span>
    </Link>
  )
}
