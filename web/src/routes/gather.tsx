import { useQuery } from '@tanstack/react-query'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { toastError } from '../components/toasts.tsx'
import { currentGatherQuery, startGather } from '../data/gather.ts'
import { useRefresh } from '../data/use-refresh.ts'
import { DropArea } from '../features/gather/drop-area.tsx'
import { OpenLedger } from '../features/gather/open-ledger.tsx'
import { addUploads, useUploads } from '../features/gather/upload.ts'
import { usePhoneDialog } from '../features/phone/use-phone-dialog.tsx'

export function GatherRoute() {
  const current = useQuery(currentGatherQuery)
  const refresh = useRefresh()
  const uploads = useUploads()
  const phone = usePhoneDialog()
  const add = async (files: { path: string; file: File }[]) => {
    if (files.length === 0) return
    try {
      const { id } = await startGather()
      addUploads(id, files)
      await refresh('gather')
    } catch (error) {
      toastError(error)
    }
  }
  const id = current.data?.id
  return (
    <div className="flex h-[calc(100dvh-112px)] flex-col px-6 pb-4 pt-5">
      <title>Gather · Gentle Satchel</title>
      {current.isPending && <Loading what="the ledger" />}
      {current.isError && <LoadError error={current.error} onRetry={() => void current.refetch()} />}
      {current.isSuccess && !id && (
        <>
          <PageTitle>Gather</PageTitle>
          <DropArea large onFiles={add} onPhone={phone.open} />
        </>
      )}
      {id && <OpenLedger id={id} uploads={uploads} onFiles={add} onPhone={phone.open} />}
      {phone.dialog}
    </div>
  )
}
