import { Printer } from 'lucide-react'
import { Link } from 'react-router'
import { Button } from '../../../components/button.tsx'
import { plural } from '../../../components/format.ts'
import { QrCode } from '../../../components/qr-code.tsx'
import type { Pack } from '../../../data/packs.ts'

type Told = { id: string; name: string; link: string | null }

/** A card a person, two side by side on paper: cut apart, each has a link that a phone's camera reads. */
export function Cards({ pack, links }: { pack: Pack; links: readonly Told[] }) {
  const cards = links.filter((each) => each.link !== null)
  const left = links.length - cards.length
  return (
    <main className="mx-auto w-[min(860px,100%)] p-6">
      <div className="mb-5 flex flex-wrap items-center justify-between gap-3 print:hidden">
        <Link to={`/hand-out/${pack.id}/people`} className="text-13 text-saddle underline underline-offset-2">
          People of {pack.title}
        </Link>
        <h1 className="font-title text-24">Cards to print</h1>
        <p role="status">
          {plural(cards.length, 'card')}
          {left > 0 && `; ${plural(left, 'link')} cannot be told again: make new ones`}
        </p>
        <Button kind="primary" disabled={cards.length === 0} onClick={() => window.print()}>
          <Printer size={18} aria-hidden /> Print
        </Button>
      </div>
      {cards.length === 0 && <p>There is no link to print.</p>}
      <ul className="grid grid-cols-1 gap-4 sm:grid-cols-2 print:grid-cols-2">
        {cards.map(({ id, name, link }) => (
          <li
            key={id}
            className="grid break-inside-avoid grid-cols-[auto_minmax(0,1fr)] items-center gap-4 rounded-10 border border-dashed border-line bg-surface p-4"
          >
            <QrCode text={link ?? ''} label={`Code for ${name}`} className="w-28" />
            <div className="min-w-0">
              <p className="truncate font-title text-20">{name}</p>
              <p className="truncate">{pack.title}</p>
              <p className="measure mt-1 break-all text-13">{link}</p>
            </div>
          </li>
        ))}
      </ul>
    </main>
  )
}
