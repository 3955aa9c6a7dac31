import { useQuery } from '@tanstack/react-query'
import { RequestError } from '../api/client.ts'
import { LoadError, Loading } from '../components/states.tsx'
import { handOutPageQuery } from '../data/hand-out-page.ts'
import { Pack } from '../features/person/pack-page.tsx'

/** What somebody with a link sees: public, calm, no account. */
export function PersonPage({ token }: { token: string }) {
  const page = useQuery(handOutPageQuery(token))
  return (
    <main className="mx-auto grid w-[min(860px,100%)] gap-6 px-5 py-8">
      {page.isPending && <Loading what="the pack" />}
      {page.isError &&
        (page.error instanceof RequestError && page.error.status >= 400 && page.error.status < 500 ? (
          <DeadLink sentence={page.error.message} />
        ) : (
          <LoadError error={page.error} onRetry={() => void page.refetch()} />
        ))}
      {page.data && <Pack page={page.data} token={token} />}
      <footer className="flex items-center gap-2 text-13 text-quiet">
        <img src="/mark.svg" alt="" width={20} height={20} /> Handed out with Gentle Satchel
      </footer>
    </main>
  )
}

function DeadLink({ sentence }: { sentence: string }) {
  return (
    <section className="rounded-10 border border-line bg-surface p-8">
      <title>Gentle Satchel</title>
      <h1 className="pb-2 font-title text-34 leading-none">Nothing to fetch here</h1>
      <div className="stitched mb-4" />
      <p role="alert">{sentence}</p>
    </section>
  )
}
