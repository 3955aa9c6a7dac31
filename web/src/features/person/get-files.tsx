import { type Part, stepsOf } from '@satchel/core/pack/parts'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Download } from 'lucide-react'
import { type ReactNode, Suspense, useState } from 'react'
import { Button, buttonLook } from '../../components/button.tsx'
import { fetched } from '../../components/fetched.tsx'
import { SelectField } from '../../components/field.tsx'
import { formatBytes, plural } from '../../components/format.ts'
import { Loading } from '../../components/states.tsx'
import { type App, arrivesQuery, downloadOf, givenBy, type HandOutPage, takeIn } from '../../data/hand-out-page.ts'
import { markStep, OPEN, rememberApp, useRemembered } from './remembered.ts'

const WhichApp = fetched(async () => ({ default: (await import('./which-app.tsx')).WhichApp }))
const NotWorking = fetched(async () => ({ default: (await import('./not-working.tsx')).NotWorking }))

type Props = { page: HandOutPage; token: string }
/** For whom files are: an app that the maker prepared them for, or any program. */
export type Taker = App | typeof OPEN
export const asOf = (taker: Taker): Part['as'] => (taker === OPEN ? { kind: 'open' } : { kind: 'app', id: taker.id })

/** The app that this device remembers, where the maker prepared files for it. */
export function useTaker({ apps, open }: HandOutPage): Taker | undefined {
  const app = useRemembered((state) => state.app)
  if (open === null && apps.length === 0) return undefined
  // where no app was prepared for, there is nothing to ask
  if (open !== null && (app === OPEN || apps.length === 0)) return OPEN
  // nor where one is all there is
  return open === null && apps.length === 1 ? apps[0] : apps.find(({ name }) => name === app)
}

/** Which app somebody paints in, the one right file for it, and what to do with that. */
export function GetFiles({ page, token }: Props) {
  const taker = useTaker(page)
  const [isAsking, setAsking] = useState(false)
  return (
    <section
      id="get"
      aria-labelledby="get-title"
      className="grid grid-cols-[minmax(0,1fr)] gap-4 rounded-10 border border-line bg-surface p-6 print:hidden"
    >
      <h2 id="get-title" className="font-title text-24">
        {page.apps.length === 0 ? 'Get the brushes' : 'Which app do you paint in?'}
      </h2>
      {(page.open !== null || page.apps.length > 0) && (
        <>
          <fieldset className="flex flex-wrap gap-2" hidden={page.apps.length === 0}>
            <legend className="sr-only">Which app do you paint in?</legend>
            {page.apps.map((app) => (
              <Choice
                key={app.id}
                isChosen={!isAsking && taker === app}
                onChoose={() => {
                  setAsking(false)
                  rememberApp(app.name)
                }}
              >
                {app.name} <span className="text-13 text-quiet">{app.appVersion}</span>
              </Choice>
            ))}
            {page.open !== null && (
              <Choice
                isChosen={!isAsking && taker === OPEN}
                onChoose={() => {
                  setAsking(false)
                  rememberApp(OPEN)
                }}
              >
                Another one
              </Choice>
            )}
            {page.apps.length > 1 && (
              <Choice isChosen={isAsking} onChoose={() => setAsking(true)}>
                I don’t know
              </Choice>
            )}
          </fieldset>
          {isAsking && (
            <Suspense fallback={<Loading what="three questions" />}>
              <WhichApp
                apps={page.apps}
                onFound={(name) => {
                  setAsking(false)
                  rememberApp(name)
                }}
              />
            </Suspense>
          )}
          {!isAsking && taker && <TakerFiles key={taker === OPEN ? OPEN : taker.id} {...{ page, token, taker }} />}
        </>
      )}
      <Whole {...{ page, token }} />
    </section>
  )
}

function Choice({ isChosen, onChoose, children }: { isChosen: boolean; onChoose: () => void; children: ReactNode }) {
  return (
    <label
      className={`relative cursor-pointer rounded-4 border bg-raised px-3 py-1.5 has-[:focus-visible]:outline-2 ${isChosen ? 'border-saddle outline-2 outline-saddle' : 'border-line'}`}
    >
      <input type="radio" name="app" className="sr-only" checked={isChosen} onChange={onChoose} />
      {children}
    </label>
  )
}

/** The files for one app: how much of them, the press that fetches it, and the steps that follow. */
function TakerFiles({ page, token, taker }: Props & { taker: Taker }) {
  const as = asOf(taker)
  const arrives = useQuery(arrivesQuery(token, as, givenBy(page)))
  const [of, setOf] = useState('all')
  const [isTold, setTold] = useState(false)
  const whole = taker === OPEN ? page.open : taker
  const at = of === 'all' ? undefined : Number(of)
  const size = at === undefined ? whole : arrives.data?.sets[at]
  const part: Part = { as, of: at === undefined ? { kind: 'all' } : { kind: 'set', at } }
  const forWhom = taker === OPEN ? 'any program' : taker.name
  return (
    <div className="grid gap-4">
      {taker === OPEN && (
        <p className="text-quiet">
          Every brush as a picture (PNG) and as an open brush file (GBR for one picture, GIH for several), which many
          programs read.
        </p>
      )}
      <div className="flex flex-wrap items-end gap-3">
        {page.sets.length > 1 && (
          <div className="w-64">
            <SelectField
              label="How much"
              value={of}
              onChange={(event) => setOf(event.target.value)}
              choices={[
                { value: 'all', label: `all ${plural(page.brushes.length, 'brush', 'brushes')}` },
                ...page.sets.map(({ name, brushes }, i) => ({
                  value: String(i),
                  label: `${name} (${brushes.length})`,
                })),
              ]}
            />
          </div>
        )}
        {size && size.files === 0 ? (
          <p className="py-1.5">Nothing of it could be made for {forWhom}.</p>
        ) : (
          <a href={downloadOf(token, part)} download className={buttonLook('primary')}>
            <Download size={18} aria-hidden /> Get them for {forWhom}
            {size && `: ${plural(size.files, 'file')}, ${formatBytes(size.bytes)}`}
          </a>
        )}
      </div>
      {taker !== OPEN && taker.refused > 0 && (
        <p className="text-quiet">
          {plural(taker.refused, 'brush', 'brushes')} could not be made for {taker.name}; each says why where it is
          opened.
        </p>
      )}
      <Steps {...{ page, token, taker }} />
      {isTold ? (
        <Suspense fallback={<Loading what="the usual reasons" />}>
          <NotWorking token={token} taker={taker} />
        </Suspense>
      ) : (
        <div>
          <Button onClick={() => setTold(true)}>It does not work</Button>
        </div>
      )}
    </div>
  )
}

/** What to do with what was fetched: it stays on the screen, and this device knows what is done. */
function Steps({ page, token, taker }: Props & { taker: Taker }) {
  const key = `${token.slice(0, 8)} ${page.version} ${taker === OPEN ? OPEN : taker.name}`
  const done = useRemembered((state) => state.done[key])
  return (
    <section className="grid gap-2" aria-label="What to do then">
      <h3 className="font-title text-18">Then</h3>
      <ol className="grid gap-1.5">
        {stepsOf(taker === OPEN ? undefined : taker).map((step, i) => {
          // two steps may say the same
          const its = `${i + 1} ${step}`
          const isDone = done?.includes(its) ?? false
          return (
            <li key={its}>
              <label className="flex cursor-pointer items-baseline gap-2.5">
                <input
                  type="checkbox"
                  checked={isDone}
                  onChange={(event) => markStep(key, its, event.target.checked)}
                />
                <span className={isDone ? 'text-quiet line-through' : ''}>{step}</span>
              </label>
            </li>
          )
        })}
      </ol>
    </section>
  )
}

/** What is said where there is no file. */
const FILES_SAID: Record<HandOutPage['files'], string> = {
  ready: '',
  building: 'The files are being put together. That takes a minute or two, and this page shows them by itself.',
  failed:
    'The files could not be put together. Tell whoever sent you the link; the brushes can be tried here meanwhile.',
  nothing: 'Nothing can be fetched yet.',
}

/** Who is signed in here has it put before them in their ledger, without a file between. */
function TakeIn({ token }: { token: string }) {
  const taking = useMutation({
    mutationFn: () => takeIn(token),
    onSuccess: () => window.location.assign('/gather'),
  })
  return (
    <>
      <Button disabled={taking.isPending} onClick={() => taking.mutate()}>
        Take into my library
      </Button>
      {taking.isError && (
        <span role="alert" className="text-madder">
          {taking.error.message}
        </span>
      )}
    </>
  )
}

/** All of it as the maker released it, and the one file for who uses the same program as the maker. */
function Whole({ page, token }: Props) {
  if (page.zipBytes === null) return <p role="status">{FILES_SAID[page.files]}</p>
  const look =
    page.open === null && page.apps.length === 0 ? buttonLook('primary') : 'text-saddle underline underline-offset-2'
  return (
    <p className="flex flex-wrap items-center gap-x-5 gap-y-2">
      <a href={downloadOf(token)} download className={look}>
        Download all {plural(page.brushes.length, 'brush', 'brushes')} for every app, {formatBytes(page.zipBytes)}
      </a>
      {page.satchel && page.canTake && <TakeIn token={token} />}
      {page.satchel && (
        <a
          href={downloadOf(token, { as: { kind: 'satchel' }, of: { kind: 'all' } })}
          download
          className="text-saddle underline underline-offset-2"
        >
          One file for Gentle Satchel, {formatBytes(page.satchel.bytes)}
        </a>
      )}
    </p>
  )
}
