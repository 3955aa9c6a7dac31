import type { ReactNode } from 'react'

/** The title of a page over its stitched line, with what belongs beside it at the right. */
export function PageTitle({ children, note, aside }: { children: ReactNode; note?: ReactNode; aside?: ReactNode }) {
  return (
    <header className="mb-4">
      <div className="flex flex-wrap items-end justify-between gap-x-6 gap-y-2 pb-2">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="font-title text-34 leading-none">{children}</h1>
          {note && <p className="text-quiet">{note}</p>}
        </div>
        {aside && <div className="flex flex-wrap items-center gap-2">{aside}</div>}
      </div>
      <div className="stitched" />
    </header>
  )
}
