import { useQuery } from '@tanstack/react-query'
import { RequestError } from '../api/client.ts'
import { LoadError, Loading } from '../components/states.tsx'
import { phonePageQuery } from '../data/phone-page.ts'
import { Open } from '../features/phone/open-link.tsx'
import { Sheet } from '../features/phone/sheet.tsx'

/** What a phone shows that was pointed at a link: photographs taken here go straight into the ledger. */
export function PhonePage({ token }: { token: string }) {
  const page = useQuery(phonePageQuery(token))
  return (
    <main className="mx-auto grid w-[min(520px,100%)] gap-5 px-5 py-8">
      <title>Photographs · Gentle Satchel</title>
      {page.isPending && <Loading what="the link" />}
      {page.isError &&
        (page.error instanceof RequestError && page.error.status >= 400 && page.error.status < 500 ? (
          <Sheet title="This link is closed">
            <p role="alert">{page.error.message}</p>
          </Sheet>
        ) : (
          <LoadError error={page.error} onRetry={() => void page.refetch()} />
        ))}
      {page.data && <Open token={token} {...page.data} />}
      <footer className="flex items-center gap-2 text-13 text-quiet">
        <img src="/mark.svg" alt="" width={20} height={20} /> Gentle Satchel
      </footer>
    </main>
  )
}
