import { useQuery } from '@tanstack/react-query'
import { Printer, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { Button } from '../components/button.tsx'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { bringBackPack, deletePack, packQuery, type Release } from '../data/packs.ts'
import { CheckSummary } from '../features/check-list/check-summary.tsx'
import { HandOutDialog, HandOuts } from '../features/hand-out/hand-outs.tsx'
import { LinkDialog } from '../features/hand-out/link-dialog.tsx'
import { PackContents } from '../features/hand-out/pack-contents.tsx'
import { PackFactsForm } from '../features/hand-out/pack-facts.tsx'
import { Releases } from '../features/hand-out/releases.tsx'
import { usePackChange } from '../features/hand-out/use-pack-change.ts'
import { MeetAt } from '../meeting/meeting-place.ts'
import { useWrapping } from '../parcels/wrapping.ts'

export function PackRoute() {
  const { packId = '' } = useParams()
  const pack = useQuery(packQuery(packId))
  const navigate = useNavigate()
  const change = usePackChange()
  const wrap = useWrapping((state) => state.wrap)
  const [giving, setGiving] = useState<Release>()
  const [link, setLink] = useState<{ name: string; link: string }>()
  if (pack.isPending) return <Loading what="the pack" />
  if (pack.isError) return <LoadError error={pack.error} onRetry={() => void pack.refetch()} />
  const { title } = pack.data
  const remove = async () => {
    await navigate('/hand-out')
    await change(() => deletePack(packId), {
      text: `"${title}" is deleted; links already given go on working.`,
      undo: () => bringBackPack(packId),
    })
  }
  return (
    <div className="px-6 pb-8 pt-5">
      <title>{`${title} · Hand out · Gentle Satchel`}</title>
      <Link to="/hand-out" className="text-13 text-saddle underline underline-offset-2">
        All packs
      </Link>
      <PageTitle
        aside={
          <>
            <Button
              kind="quiet"
              disabled={pack.data.brushes === 0}
              onClick={() => wrap({ kind: 'packSheet', packId, paper: 'a4' })}
            >
              <Printer size={18} aria-hidden /> Print a sheet
            </Button>
            <Button kind="quiet" onClick={() => void remove()}>
              <Trash2 size={18} aria-hidden /> Delete the pack
            </Button>
          </>
        }
      >
        {title}
      </PageTitle>
      <MeetAt kind="pack" id={packId} />
      <div className="grid gap-8 wide:grid-cols-[320px_minmax(0,1fr)_minmax(0,1.1fr)]">
        <PackContents pack={pack.data} />
        <PackFactsForm pack={pack.data} />
        <div className="grid content-start gap-8">
          <Releases pack={pack.data} checkList={<CheckSummary packId={packId} />} onHandOut={setGiving} />
          <HandOuts pack={pack.data} onLink={setLink} />
        </div>
      </div>
      <HandOutDialog pack={pack.data} release={giving} onClose={() => setGiving(undefined)} onLink={setLink} />
      <LinkDialog shown={link} onClose={() => setLink(undefined)} />
    </div>
  )
}
