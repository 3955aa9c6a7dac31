import { randomUUID } from 'node:crypto'
import type { HttpBindings } from '@hono/node-server'
import { checkNesting } from '@satchel/core/formats/json'
import { type Context, Hono } from 'hono'
import { bodyLimit } from 'hono/body-limit'
import { NONCE, secureHeaders } from 'hono/secure-headers'
import type { AppDeps } from './app-deps.ts'
import { askAs } from './asking.ts'
import { Problem } from './errors.ts'
import { tokenOf } from './people/identify.ts'
import { answerSigning } from './people/signing.ts'
import { actRoutes } from './routes/acts.ts'
import { readRest } from './routes/body.ts'
import { bounceRoutes } from './routes/bounces.ts'
import { brushRoutes } from './routes/brushes.ts'
import { checkListRoutes } from './routes/check-list.ts'
import { isRead, type SignedIn, signedIn, takesFile } from './routes/context.ts'
import { coverRoutes } from './routes/covers.ts'
import { describeApi } from './routes/describe-api.ts'
import { describeError } from './routes/describe-error.ts'
import { destinationRoutes } from './routes/destinations.ts'
import { differenceRoutes } from './routes/differences.ts'
import { editionRoutes } from './routes/editions.ts'
import { exchangeRoutes } from './routes/exchanges.ts'
import { fitRoutes } from './routes/fit.ts'
import { followedRoutes } from './routes/followed.ts'
import { frameRoutes } from './routes/frames.ts'
import { gatherEndRoutes } from './routes/gather-ends.ts'
import { gatherRoutes } from './routes/gathers.ts'
import { handOutPageRoutes } from './routes/hand-out-page.ts'
import { handOutRoutes } from './routes/hand-outs.ts'
import { installRoutes } from './routes/installs.ts'
import { invitationRoutes } from './routes/invitations.ts'
import { jobRoutes } from './routes/jobs.ts'
import { keptSearchRoutes } from './routes/kept-searches.ts'
import { libraryFileRoutes } from './routes/library-file.ts'
import { lookRoutes } from './routes/looks.ts'
import { looseEndRoutes } from './routes/loose-ends.ts'
import { mailRoutes } from './routes/mails.ts'
import { manyRoutes } from './routes/many.ts'
import { materialRoutes } from './routes/materials.ts'
import { memberRoutes } from './routes/members.ts'
import { noteDone } from './routes/noted.ts'
import { oneBrushRoutes } from './routes/one-brush.ts'
import { packRoutes } from './routes/packs.ts'
import { parcelRoutes } from './routes/parcels.ts'
import { phoneLinkRoutes } from './routes/phone-links.ts'
import { phonePageRoutes } from './routes/phone-page.ts'
import { pictureRoutes } from './routes/pictures.ts'
import { pocketRoutes } from './routes/pockets.ts'
import { presenceRoutes } from './routes/presence.ts'
import { releaseRoutes } from './routes/releases.ts'
import { saleRoutes } from './routes/sales.ts'
import { sameMarkRoutes } from './routes/same-marks.ts'
import { secondFactorRoutes } from './routes/second-factor.ts'
import { sessionRoutes } from './routes/session.ts'
import { setRoutes } from './routes/sets.ts'
import { setupCardRoutes } from './routes/setup-cards.ts'
import { shopRoutes } from './routes/shops.ts'
import { signingRoutes } from './routes/signing.ts'
import { sourceRoutes } from './routes/sources.ts'
import { stopMailRoutes } from './routes/stop-mails.ts'
import { tokenRoutes } from './routes/tokens.ts'
import { uploadRoutes } from './routes/uploads.ts'
import { workspaceRoutes } from './routes/workspace.ts'
import { noteSecurity } from './security-log.ts'
import { webPages } from './web-pages.ts'

const JSON_MAX_BYTES = 4 * 1024 * 1024
/** When to come back after 503. */
const RETRY_SECONDS = 2
const SLOWER_SECONDS = 60
/** The framework's mark on an answer that was streamed by Node itself: it must stay as it is. */
const ALREADY_SENT = 'x-hono-already-sent'
const STOPPING = 'This server is stopping; try again in a moment.'

/** The whole server as one Hono app; everything it works with comes in. */
export function createApp(deps: AppDeps) {
  const app = new Hono<{ Bindings: HttpBindings }>()
  app.use(
    secureHeaders({
      contentSecurityPolicy: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        styleSrc: ["'self'", NONCE], // accessible primitives add styles at run time, by the page's own nonce
        imgSrc: ["'self'", 'blob:', 'data:'],
        workerSrc: ["'self'", 'blob:'],
        connectSrc: ["'self'"],
        objectSrc: ["'none'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
      referrerPolicy: 'no-referrer', // a hand-out's link is a secret
      strictTransportSecurity: deps.origin.startsWith('https:') ? 'max-age=31536000' : false,
      xFrameOptions: 'DENY',
      permissionsPolicy: NOTHING_OF_THE_DEVICE,
    }),
  )
  // Every request has a name of its own, which its lines in the log and its answer say.
  app.use('*', async (c, next) => {
    const requestId = randomUUID()
    await askAs({ requestId }, next)
    if (!c.res.headers.has(ALREADY_SENT)) c.header('x-request-id', requestId)
    noteAnswer(deps, c, requestId)
  })
  // A name that is not ours leads a browser here under somebody else's rights.
  app.use('*', async (c, next) => {
    const host = c.req.header('host')
    if (host !== undefined && !deps.hosts.has(host.toLowerCase()) && !PROBES.has(c.req.path))
      throw new Problem(421, `Gentle Satchel is at ${deps.origin}; open it there.`)
    await next()
  })
  // An answer that comes before all of its request has come leaves no rest of it on the connection.
  app.use('*', async (c, next) => {
    await next()
    const isWhole = isRead(c.req.method) || c.env?.incoming?.complete !== false
    if (!isWhole && !(await readRest(c.req.raw))) c.header('connection', 'close')
  })
  // What runs may end; nothing new begins.
  app.use('*', async (_c, next) => {
    if (deps.stopping.aborted) throw new Problem(503, STOPPING)
    await next()
  })
  app.use('/api/*', async (c, next) => {
    // who comes by a token comes from no page: no browser sends one by itself
    const isByToken = tokenOf(c.req.raw.headers) !== undefined && !OPEN_PARTS.has(c.req.path.split('/')[2] ?? '')
    const isOurs = c.req.header('origin') === deps.origin || isByToken || FROM_ANYWHERE.test(c.req.path)
    if (!isRead(c.req.method) && !isOurs) {
      throw new Problem(
        403,
        'This change came from another site and was refused; open Gentle Satchel itself and try again.',
      )
    }
    await next()
  })
  app.use('/api/*', async (c, next) => {
    if (takesFile(c.req.method, c.req.path)) return next()
    return bodyLimit({
      maxSize: JSON_MAX_BYTES,
      onError: () => {
        throw new Problem(413, 'This request is too large; send less at once.')
      },
    })(c, next)
  })

  // Values that lie deep in one another are refused before anything walks through them.
  app.use('/api/*', async (c, next) => {
    if (isJson(c.req.header('content-type'))) checkNesting(await c.req.text())
    await next()
  })

  // What says nothing about it is for this moment and this person alone.
  app.use('/api/*', async (c, next) => {
    await next()
    if (c.res.headers.has('cache-control') || c.res.headers.has(ALREADY_SENT)) return
    c.header('cache-control', 'no-store')
  })

  app.get('/healthz', (c) => c.json({ ok: true }))
  app.get('/readyz', async (c) => {
    await deps.pool.query('select 1')
    return c.json({ ok: true })
  })

  // Accounts are made by the first visit and by invitation, never by anybody who asks.
  app.all('/api/auth/sign-up/*', () => {
    throw new Problem(403, 'Accounts are made by the owner of the workspace.')
  })
  // Of what the auth library could answer, only what the page asks for: the rest shows sessions, or takes anything.
  app.on('POST', ['/api/auth/sign-in/email', '/api/auth/sign-in/code', '/api/auth/sign-out'], (c) =>
    answerSigning(deps, c),
  )

  const api = mountApi(app, deps)
  // made once it is asked for: all routes are there by then
  const described = once(() => describeApi(app.routes, deps.origin))
  app.get('/api/openapi.json', (c) => c.json(described()))

  app.all('/api/*', () => {
    throw new Problem(404, 'There is nothing at this address.')
  })
  if (deps.webFolder) app.route('/', webPages(deps.webFolder))

  app.onError((error, c) => {
    // who asked has left: nothing of it went wrong, and nobody hears the answer
    if (c.req.raw.signal.aborted) return c.body(null, 499 as 500)
    const { status, detail } = describeError(error)
    if (status === 429) c.header('retry-after', String(SLOWER_SECONDS))
    if (status === 503) c.header('retry-after', String(RETRY_SECONDS))
    else if (status >= 500) deps.log.error({ err: error, path: c.req.path, method: c.req.method }, 'request failed')
    return c.body(JSON.stringify({ status, title: detail }), status as 500, {
      'content-type': 'application/problem+json',
    })
  })
  return api
}

function once<Result>(make: () => Result): () => Result {
  let made: { result: Result } | undefined
  return () => {
    made ??= { result: make() }
    return made.result
  }
}

const isJson = (contentType: string | undefined) =>
  /^\s*application\/(?:[\w.+-]{1,60}\+)?json\b/i.test(contentType ?? '')

/**
 * Who stops mails does so out of a mail program (RFC 8058), where the address holds all that it takes, as does that of what comes back;
 * a shop signs what it tells.
 * Neither comes with anybody's rights.
 */
const FROM_ANYWHERE = /^\/api\/(m|sales|bounces)(\/|$)/

/** Nothing of a device is asked for by any page of ours: paper and pen are enough. */
const NOTHING_OF_THE_DEVICE = {
  accelerometer: [],
  bluetooth: [],
  camera: [],
  displayCapture: [],
  geolocation: [],
  gyroscope: [],
  hid: [],
  magnetometer: [],
  microphone: [],
  midi: [],
  payment: [],
  serial: [],
  usb: [],
}
/** What looks whether the server lives comes by whatever name. */
const PROBES: ReadonlySet<string> = new Set(['/healthz', '/readyz'])

/** Refusals and deletions stand in the log, each with the request it was. */
function noteAnswer({ log, clientAddress }: AppDeps, c: Context, requestId: string): void {
  const { method, path } = c.req
  const { status } = c.res
  const isRefused = status === 403 || status === 421 || status === 429
  const isDeleted = c.res.ok && (method === 'DELETE' || DELETES.test(path))
  if (!isRefused && !isDeleted) return
  const who = c.var as Partial<SignedIn['Variables']>
  askAs({ requestId }, () =>
    noteSecurity(log, isRefused ? 'request refused' : 'something deleted', {
      method,
      path,
      status,
      address: clientAddress(c.env?.incoming),
      person: who.person?.id,
      workspace: who.workspaceId,
    }),
  )
}
/** Ways to put something away besides DELETE. */
const DELETES =
  /^\/api\/(brushes\/(bin|empty-bin|bin\/empty)|gathers\/[^/]+\/cancel|sources\/[^/]+\/bin|packs\/hand-outs\/[^/]+\/withdraw|packs\/editions\/[^/]+\/end)$/

/** What anybody may ask for: signing in, and the pages behind a link. */
const OPEN_PARTS: ReadonlySet<string> = new Set(['session', 'auth', 'invitations', 'h', 'p', 'm', 'sales', 'bounces'])

function mountApi(app: Hono<{ Bindings: HttpBindings }>, deps: AppDeps) {
  const guard = signedIn(deps)
  // what is not said to be open is closed, whatever is added
  app.use('/api/:part/*', (c, next) => {
    if (OPEN_PARTS.has(c.req.param('part'))) return next()
    return guard(c as never, async () => {
      await next()
      await noteDone(deps, c as never)
    })
  })
  return app
    .route('/api/session', sessionRoutes(deps))
    .route('/api/session', secondFactorRoutes(deps))
    .route('/api/invitations', invitationRoutes(deps))
    .route('/api/members', memberRoutes(deps))
    .route('/api/tokens', tokenRoutes(deps))
    .route('/api/presence', presenceRoutes(deps))
    .route('/api/h', handOutPageRoutes(deps))
    .route('/api/p', phonePageRoutes(deps))
    .route('/api/phone-links', phoneLinkRoutes(deps))
    .route('/api/workspace', workspaceRoutes(deps))
    .route('/api/exchanges', exchangeRoutes(deps))
    .route('/api/followed', followedRoutes(deps))
    .route('/api/gathers', gatherRoutes(deps))
    .route('/api/gathers', uploadRoutes(deps))
    .route('/api/gathers', gatherEndRoutes(deps))
    .route('/api/brushes', brushRoutes(deps))
    .route('/api/brushes', oneBrushRoutes(deps))
    .route('/api/brushes', frameRoutes(deps))
    .route('/api/sets', setRoutes(deps))
    .route('/api/pictures', pictureRoutes(deps))
    .route('/api/materials', materialRoutes(deps))
    .route('/api/pockets', pocketRoutes(deps))
    .route('/api/packs', packRoutes(deps))
    .route('/api/packs', releaseRoutes(deps))
    .route('/api/packs', coverRoutes(deps))
    .route('/api/packs', differenceRoutes(deps))
    .route('/api/packs', checkListRoutes(deps))
    .route('/api/packs', handOutRoutes(deps))
    .route('/api/packs', editionRoutes(deps))
    .route('/api/packs', mailRoutes(deps))
    .route('/api/m', stopMailRoutes(deps))
    .route('/api/setup-cards', setupCardRoutes(deps))
    .route('/api/same-marks', sameMarkRoutes(deps))
    .route('/api/acts', actRoutes(deps))
    .route('/api/many', manyRoutes(deps))
    .route('/api/kept-searches', keptSearchRoutes(deps))
    .route('/api/looks', lookRoutes(deps))
    .route('/api/shops', shopRoutes(deps))
    .route('/api/sales', saleRoutes(deps))
    .route('/api/bounces', bounceRoutes(deps))
    .route('/api/parcels', parcelRoutes(deps))
    .route('/api/library', libraryFileRoutes(deps))
    .route('/api/signing', signingRoutes(deps))
    .route('/api/jobs', jobRoutes(deps))
    .route('/api/sources', sourceRoutes(deps))
    .route('/api/fit', destinationRoutes(deps))
    .route('/api/fit', fitRoutes(deps))
    .route('/api/installs', installRoutes(deps))
    .route('/api/loose-ends', looseEndRoutes(deps))
}

/** The routes' types, for the page's client. */
export type Api = ReturnType<typeof createApp>
export type { SatchelEvent } from './events.ts'
