import { createHash, randomUUID } from 'node:crypto'
import { defaultRecipe } from '@satchel/core/brush/recipe'
import { BUILT_IN } from '@satchel/core/destinations/built-in'
import { wholePlan } from '@satchel/core/editions/plan'
import { usualSteps } from '@satchel/core/make/steps'
import { encodePng } from '@satchel/node/png'
import type { Db } from '../db/database.ts'
import { listPublished, notePublished } from '../db/exchanges.ts'
import { addCard } from '../db/setup-cards.ts'
import { gatherFiles, takeInFiles } from './gather.ts'
import { releaseAndDownload } from './release.ts'
import { type Person, startTestServer, type TestServer, until } from './test-server.ts'
import { blotPng, waveTile } from './tips.ts'

/** Routes that anybody may ask: signing in, and the pages behind a link. */
const OPEN = /^\/api\/(session|invitations|h|p|m|auth|sales|bounces)(\/|$)/

/** A destination of one's own. */
const ownDestination = { ...BUILT_IN.dunlin, name: 'Redshank' }

/** A cover with a stroke of a brush. */
const coverOf = (brushId: string) => ({
  ...{ ground: '#ffffff', title: 'Shore', titleColour: '#000000', titlePlace: 'above' },
  strokes: [{ brushId, colour: '#333333', top: 1, height: 0.3 }],
})

/** A file that goes up in pieces. */
const toCome = { path: 'later.zip', sizeBytes: 9_000_000, modifiedMs: 1 }

/** An exchange that is not reached from here. */
const HOST = 'exchange.example'

/** A folder that is followed, and what lies in it. */
const toFollow = { name: 'Sketches', by: 'program', zone: 'Europe/Oslo' }
const leaf = { path: 'leaf.png', sha256: createHash('sha256').update(blotPng(9)).digest('hex'), sizeBytes: 1 }

/** Routes that take whole files, and what their address then says. */
const FILES: readonly [RegExp, string][] = [
  [/followed\/:id\/files$/, `?path=leaf.png&sha256=${leaf.sha256}`],
  [/files$/, '?path=x.png'],
  [/^POST \/api\/(sources|materials)$/, '?name=x.png'],
  [/^POST \/api\/library$/, ''],
  [/^POST \/api\/looks\/like$/, '?by=mark'],
  [/looks\/like\/:id$/, '?by=mark'],
  [/cover\/picture$/, '?left=0&top=0&width=1&height=1'],
  [/(sources\/:id\/file|frames\/:ordinal)$/, '?name=x.png&from=1'],
]

export type Route = { method: string; path: string }

export type Ids = Record<
  | 'set'
  | 'otherSet'
  | 'brush'
  | 'tuft'
  | 'pack'
  | 'parcel'
  | 'release'
  | 'handOut'
  | 'edition'
  | 'build'
  | 'recipient'
  | 'note'
  | 'gather'
  | 'line'
  | 'upload'
  | 'material'
  | 'pocket'
  | 'item'
  | 'job'
  | 'blob'
  | 'source'
  | 'phoneLink'
  | 'destination'
  | 'install'
  | 'mend'
  | 'shop'
  | 'product'
  | 'setupCard'
  | 'act'
  | 'search'
  | 'invitation'
  | 'token'
  | 'followed'
  | 'published',
  string
>

/** The owner's own things, one of each kind; the library has brushes, a grain, a pack and a hand-out. */
async function collectIds(owner: Person, db: Db): Promise<Ids> {
  type Rows = { id: string }[]
  const first = (rows: Rows | undefined) => rows?.[0]?.id ?? ''
  const { sets } = await owner.json<{ sets: Rows }>('/api/sets')
  const { brushes } = await owner.json<{ brushes: Rows }>('/api/brushes')
  const { id: otherSet } = await owner.post<{ id: string }>('/api/sets', { name: 'Dune' })
  const { packs } = await owner.json<{ packs: Rows }>('/api/packs')
  const pack = await owner.json<{ releases: Rows; handOuts: (Rows[number] & { recipientId: string })[] }>(
    `/api/packs/${first(packs)}`,
  )
  const note = await noteFrom(owner, first(packs), first(pack.handOuts))
  const { edition, build } = await editionOf(owner, first(packs), first(pack.releases), first(brushes))
  const { materials } = await owner.json<{ materials: Rows }>('/api/materials')
  await owner.post('/api/pockets', { name: 'Mine', setId: first(sets) })
  const { pockets } = await owner.json<{ pockets: { id: string; items: Rows }[] }>('/api/pockets')
  const { id: gather, ledger } = await gatherFiles(owner, { 'again/leaf.png': blotPng(3) })
  const { id: upload } = await owner.post<{ id: string }>(`/api/gathers/${gather}/uploads`, toCome)
  const { jobs } = await owner.json<{ jobs: Rows }>('/api/jobs')
  const brush = await owner.json<{ pictures: { blobSha: string }[] }>(`/api/brushes/${first(brushes)}`)
  const blob = brush.pictures[0]?.blobSha ?? ''
  const { id: source } = await owner.post<{ id: string }>('/api/sources/from-picture', { blobSha: blob, name: 'Leaf' })
  const { id: phoneLink } = await owner.post<{ id: string }>('/api/phone-links')
  const { id: destination } = await owner.post<{ id: string }>('/api/fit/destinations', { description: ownDestination })
  const { id: install } = await owner.post<{ id: string }>('/api/installs', {
    name: 'Shore',
    destinationId: 'dunlin',
    brushIds: [first(brushes)],
  })
  await until(async () => (await owner.json<{ state: string }>(`/api/installs/${install}`)).state === 'ready')
  const mend = await mendSomething(owner, first(brushes))
  const wanted = { kind: 'brush', brushId: first(brushes) }
  const { id: parcel } = await owner.post<{ id: string }>('/api/parcels', { wanted })
  await until(async () => {
    const { parcels } = await owner.json<{ parcels: { fileName: string | null }[] }>('/api/parcels')
    return parcels[0]?.fileName !== null
  })
  const { id: search } = await owner.post<{ id: string }>('/api/kept-searches', {
    name: 'Blots',
    filter: { q: 'blot' },
  })
  const invite = { role: 'viewer', note: 'Ida', days: 3 }
  const { id: invitation } = await owner.post<{ id: string }>('/api/members/invitations', invite)
  const newToken = { name: 'Theirs', scope: 'read', days: 3 }
  const { id: token } = await owner.post<{ id: string }>('/api/tokens', newToken)
  const { id: followed } = await owner.post<{ id: string }>('/api/followed', toFollow)
  await owner.post(`/api/followed/${followed}/look`, { files: [leaf] })
  const { workspaceId } = owner
  await notePublished(db, {
    workspaceId,
    packId: first(packs),
    version: '1.0.0',
    host: HOST,
    title: 'Shed',
    item: 'shore',
  })
  const published = (await listPublished(db, workspaceId, first(packs)))[0]?.id ?? ''
  const act = await actOf(owner, brushes[1]?.id ?? '')
  const laid = { hidden: [], pockets: [] }
  const card = { workspaceId: owner.workspaceId, gatherId: gather, title: 'Shore', laid }
  const setupCard = await addCard(db, card)
  const { shop, product } = await shopOf(owner, first(packs))
  await owner.post(`/api/packs/${first(packs)}/cover`, { cover: coverOf(first(brushes)) }, 'PUT')
  return {
    set: first(sets), otherSet, brush: first(brushes), tuft: brushes[1]?.id ?? '', pack: first(packs), parcel,
    release: first(pack.releases), handOut: first(pack.handOuts), recipient: pack.handOuts[0]?.recipientId ?? '', note, edition, build, gather, line: first(ledger.lines), upload,
    material: first(materials), pocket: first(pockets), item: first(pockets[0]?.items), job: first(jobs),
    invitation, token, followed, published, blob, source, phoneLink, destination, install, mend, shop, product, setupCard, act, search,
  } // biome-ignore format: a table
}

/** One brush kept instead of a copy of it. */
async function actOf(owner: Person, kept: string): Promise<string> {
  const { id } = await owner.post<{ id: string }>(`/api/brushes/${kept}/copy`, { name: 'Again' })
  return (await owner.post<{ id: string }>('/api/same-marks/keep-one', { kept, gone: [id] })).id
}

/** A shop that sells a pack. */
async function shopOf(owner: Person, packId: string) {
  const { id: shop } = await owner.post<{ id: string }>('/api/shops', { name: 'Corner Kiosk' })
  await owner.post(`/api/shops/${shop}/products`, { code: 'shore', packId }, 'PUT')
  const { shops } = await owner.json<{ shops: { products: { id: string }[] }[] }>('/api/shops')
  return { shop, product: shops[0]?.products[0]?.id ?? '' }
}

/** An edition that somebody has, with its download. */
async function editionOf(owner: Person, packId: string, releaseId: string, brushId: string) {
  const plan = { ...wholePlan(), without: [brushId] }
  const { id: edition } = await owner.post<{ id: string }>(`/api/packs/${packId}/editions`, { name: 'Class', plan })
  await owner.post(`/api/packs/${packId}/hand-outs`, { releaseId, editionId: edition, name: 'Bo' })
  const builds = () => owner.json<{ builds: { id: string; state: string }[] }>(`/api/packs/editions/${edition}/builds`)
  await until(async () => (await builds()).builds[0]?.state === 'ready')
  return { edition, build: (await builds()).builds[0]?.id ?? '' }
}

/** What somebody with a link writes. */
async function noteFrom(owner: Person, packId: string, handOutId: string): Promise<string> {
  const { links } = await owner.post<{ links: { link: string }[] }>('/api/packs/hand-outs/links', { ids: [handOutId] })
  const note = { sentId: randomUUID(), app: '', text: 'It does not paint.' }
  await owner.post(`/api/h/${links[0]?.link.split('/').at(-1)}/notes`, note)
  const { notes } = await owner.json<{ notes: { id: string }[] }>(`/api/packs/${packId}/hand-outs/notes`)
  return notes[0]?.id ?? ''
}

/** Installs a brush, lets its app go to the next version, and mends what that breaks. */
async function mendSomething(owner: Person, brushId: string): Promise<string> {
  const standIn = 'sanderling'
  const { id } = await owner.post<{ id: string }>('/api/installs', {
    name: 'Marsh',
    destinationId: standIn,
    brushIds: [brushId],
  })
  await until(async () => (await owner.json<{ state: string }>(`/api/installs/${id}`)).state === 'ready')
  await owner.post(`/api/installs/${id}/put`, { answer: 'both' })
  await owner.post('/api/loose-ends/move', { standIn, from: 'Sanderling 5', to: 'Sanderling 6' })
  return (await owner.post<{ id: string }>('/api/loose-ends', { standIn, mending: { sure: true } })).id
}

/** Every route of the server behind the sign-in, as the server itself lists them. */
function listRoutes(server: TestServer): Route[] {
  const all = server.parts.app.routes.filter(
    ({ method, path }) => method !== 'ALL' && path.startsWith('/api/') && !OPEN.test(path),
  )
  return [...new Map(all.map(({ method, path }) => [`${method} ${path}`, { method, path }])).values()]
}

/** The owner's own things in the place of a route's parameters. */
const fillWith =
  (ids: Ids) =>
  (path: string): string => {
    const kinds: [RegExp, keyof Ids][] = [
    [/^\/api\/exchanges\/published-of\//, 'pack'], [/^\/api\/exchanges\//, 'published'], [/^\/api\/followed\//, 'followed'], [/^\/api\/members\/invitations\//, 'invitation'], [/^\/api\/tokens\//, 'token'], [/^\/api\/presence\//, 'brush'], [/^\/api\/sets\//, 'set'], [/^\/api\/brushes\//, 'brush'], [/^\/api\/packs\/hand-outs\/people\//, 'recipient'], [/^\/api\/packs\/hand-outs\/note\//, 'note'], [/^\/api\/packs\/hand-outs\//, 'handOut'],
    [/^\/api\/packs\/editions\//, 'edition'], [/^\/api\/packs\//, 'pack'], [/^\/api\/parcels\//, 'parcel'], [/^\/api\/gathers\//, 'gather'], [/^\/api\/materials\//, 'material'],
    [/^\/api\/pockets\//, 'pocket'], [/^\/api\/jobs\//, 'job'], [/^\/api\/sources\//, 'source'],
    [/^\/api\/phone-links\//, 'phoneLink'], [/^\/api\/fit\//, 'destination'], [/^\/api\/installs\//, 'install'],
    [/^\/api\/setup-cards\//, 'setupCard'], [/^\/api\/acts\//, 'act'], [/^\/api\/kept-searches\//, 'search'], [/^\/api\/many\//, 'brush'], [/^\/api\/looks\//, 'brush'], [/^\/api\/loose-ends\//, 'mend'], [/^\/api\/shops\/products\//, 'product'], [/^\/api\/shops\//, 'shop'],
  ] // biome-ignore format: a table
    const kind = kinds.find(([begins]) => begins.test(path))?.[1]
    return path
      .replace(':id', kind ? ids[kind] : ':id')
      .replace(':host', HOST)
      .replace(':item/', 'shore/')
      .replace(/:item$/, 'shore')
      .replace(':otherId', ids.otherSet)
      .replace(':personId', 'nobody-there')
      .replace(':kind', 'brush')
      .replace(':itemId', ids.item)
      .replace(':uploadId', ids.upload)
      .replace(':lineId', ids.line)
      .replace(':of', 'theirs')
      .replace(':mendId', ids.mend)
      .replace(':releaseId', ids.release)
      .replace(':buildId', ids.build)
      .replace(':ordinal', '1')
      .replace(':sha', ids.blob)
      .replace(':brushId', ids.brush)
      .replace(':destinationId', 'dunlin')
      .replace(':what', 'before')
  }

/** A body that the owner could send to a route with success; most need one. */
const bodyOf = (ids: Ids, key: string): Record<string, unknown> => {
  const some = { ids: [ids.brush] }
  const bodies: Record<string, Record<string, unknown>> = {
    'POST /api/exchanges/publish': { releaseId: ids.release, host: HOST, about: '', notes: '', tags: [] },
    'POST /api/exchanges/:host/find': { q: 'theirs' },
    'POST /api/exchanges/:host/items/:item/take': { version: '1.0.0', only: null },
    'POST /api/followed': { ...toFollow, name: 'Other sketches' },
    'POST /api/followed/:id/look': { files: [] },
    'POST /api/followed/:id/answer': { fileId: ids.followed, isSame: false },
    'POST /api/sets': { name: 'New' },
    'PATCH /api/sets/:id': { name: 'Theirs' },
    'POST /api/sets/:id/move': { afterId: null },
    'POST /api/sets/:id/copy': { name: 'Copy' },
    'POST /api/sets/:id/merge': { into: ids.otherSet },
    'POST /api/sets/:id/part': { into: ids.otherSet, added: [], packs: [] },
    'POST /api/sets/:id/brushes': some,
    'POST /api/sets/:id/remove': some,
    'POST /api/brushes/bin': some,
    'POST /api/brushes/bring-back': some,
    'POST /api/same-marks/keep-one': { kept: ids.tuft, gone: [ids.brush] },
    'POST /api/same-marks/keep-one-of-all': { kind: 'whole' },
    'POST /api/same-marks/keep-both': some,
    'POST /api/same-marks/ask-again': some,
    'POST /api/same-marks/apart': some,
    'POST /api/kept-searches': { name: 'Theirs', filter: { q: 'x' } },
    'PATCH /api/kept-searches/:id': { name: 'Theirs' },
    'POST /api/kept-searches/:id/freeze': { name: 'Theirs' },
    'POST /api/many': { ...some, change: { kind: 'maker', maker: 'Theirs' } },
    'POST /api/many/look': { ...some, change: { kind: 'maker', maker: 'Theirs' } },
    'PUT /api/brushes/:id': { name: 'Theirs', maker: '', licence: '', tags: [], recipe: defaultRecipe(), from: 1 },
    'POST /api/brushes/:id/version': { ordinal: 1 },
    'PATCH /api/brushes/:id/versions/:ordinal': { label: 'theirs' },
    'POST /api/brushes/:id/frames': { from: 1, order: [0] },
    'POST /api/brushes/:id/copy': { name: 'Copy' },
    'POST /api/brushes/:id/tip': { tipFrom: ids.tuft, from: 1 },
    'POST /api/gathers/:id/uploads': toCome,
    'POST /api/gathers/from-link': { token: ids.handOut },
    'POST /api/gathers/:id/decide': { of: { ids: [ids.line] }, outcome: 'skip' },
    'POST /api/gathers/:id/cards': { fileId: ids.gather, key: 'Shore', isChosen: true },
    'POST /api/gathers/:id/shrink': { of: { ids: [ids.line] }, smaller: true },
    'POST /api/gathers/:id/loose-ends': { mending: { sure: true } },
    'POST /api/materials/:id/replace': { by: ids.material },
    'PATCH /api/materials/:id': { name: 'Theirs' },
    'POST /api/sources/from-picture': { blobSha: ids.blob, name: 'Theirs' },
    'POST /api/sources/from-line': { lineId: ids.line },
    'PATCH /api/sources/:id': { name: 'Theirs' },
    'PUT /api/sources/:id/plan': { plan: { way: 'picture', steps: usualSteps() }, from: 1 },
    'POST /api/pockets': { name: 'Taken', setId: ids.set },
    'PATCH /api/pockets/:id': { name: 'Theirs' },
    'POST /api/pockets/:id/items': some,
    'PATCH /api/pockets/:id/items/:itemId': { label: 'theirs' },
    'POST /api/pockets/:id/items/:itemId/move': { afterId: null },
    'POST /api/fit/destinations': { description: ownDestination },
    'PUT /api/fit/destinations/:id': { from: 1, description: ownDestination },
    'POST /api/fit/try': { description: ownDestination, brushId: ids.brush },
    'PUT /api/fit/choices': { destinationId: 'dunlin', brushId: ids.brush, choices: { size: 'full' } },
    'POST /api/fit/count': { brushIds: [ids.brush], destinationIds: ['dunlin'] },
    'POST /api/installs': { name: 'Theirs', destinationId: 'dunlin', brushIds: [ids.brush] },
    'POST /api/installs/folder/look': { standIn: 'dunlin' },
    'POST /api/installs/:id/put': { answer: 'both' },
    'POST /api/installs/:id/settle': { answer: 'both', there: [], names: [] },
    'POST /api/installs/:id/renew': { names: [] },
    'POST /api/installs/:id/elsewhere': { folder: 'Brushes' },
    'POST /api/loose-ends': { standIn: 'sanderling', mending: { sure: true } },
    'POST /api/loose-ends/move': { standIn: 'sanderling', from: 'Sanderling 6', to: 'Sanderling 7' },
    'POST /api/packs': { title: 'New' },
    'PATCH /api/packs/:id': { title: 'Theirs' },
    'PUT /api/packs/:id/sets': { setIds: [] },
    'PUT /api/packs/:id/single': { brushIds: [ids.brush] },
    'PUT /api/packs/:id/notes/:brushId': { note: 'theirs' },
    'POST /api/packs/laid-out': { text: '*theirs*' },
    'PUT /api/packs/:id/cover': { cover: coverOf(ids.brush) },
    'POST /api/packs/:id/cover/look': { cover: coverOf(ids.brush) },
    'POST /api/parcels': { wanted: { kind: 'brush', brushId: ids.brush } },
    'POST /api/parcels/look': { wanted: { kind: 'set', setId: ids.set } },
    'POST /api/packs/:id/releases': { version: '9.0.0', notes: '' },
    'POST /api/packs/:id/editions': { name: 'Theirs', plan: wholePlan() },
    'PUT /api/packs/editions/:id': { name: 'Theirs', plan: wholePlan(), was: 1 },
    'POST /api/packs/editions/:id/look': { at: null },
    'POST /api/packs/:id/mails': {
      kind: 'link',
      subject: 'Theirs',
      body: '{link}',
      ids: [ids.handOut],
      actId: ids.handOut,
    },
    'POST /api/packs/hand-outs/mails/call-off': { ids: [ids.handOut] },
    'POST /api/packs/:id/hand-outs': { releaseId: ids.release, name: 'Theirs' },
    'POST /api/packs/:id/hand-outs/many': {
      ...{ releaseId: ids.release, batchId: '0f0e0d0c-0b0a-4908-8706-050403020100' },
      people: [{ name: 'Theirs', email: 'theirs@x.example', note: '' }],
    },
    'POST /api/packs/:id/hand-outs/change': { changes: [{ id: ids.handOut, follows: true }] },
    'POST /api/packs/hand-outs/links': { ids: [ids.handOut] },
    'POST /api/packs/hand-outs/copies': {
      marks: [{ to: 'Ida', of: 'Shore 1.0.0', copy: ids.handOut, signed: 'A'.repeat(86) }],
    },
    'POST /api/shops': { name: 'Theirs' },
    'POST /api/members/invitations': { role: 'viewer', note: 'Theirs', days: 3 },
    'PUT /api/workspace/name': { name: 'Theirs' },
    'POST /api/tokens': { name: 'Theirs', scope: 'read', days: 3 },
    'PATCH /api/members/:personId': { role: 'viewer' },
    'PUT /api/shops/:id/closed': { isClosed: true },
    'PUT /api/shops/:id/products': { code: 'theirs', packId: ids.pack },
    'PUT /api/packs/hand-outs/note/:id': { isRead: true },
    'PUT /api/packs/hand-outs/people/:id': { name: 'Theirs', email: '', note: '' },
  }
  return bodies[key] ?? {}
}

/** All routes behind the sign-in, and how to ask them as the owner could. */
function everyRoute(server: TestServer, ids: Ids) {
  const fill = fillWith(ids)
  return {
    routes: listRoutes(server),
    fill,
    bodyOf: ({ method, path }: Route) => bodyOf(ids, `${method} ${path}`),
    /** @param body By default one that the owner could send with success. */
    async ask(
      person: Person,
      { method, path }: Route,
      body: Record<string, unknown> = bodyOf(ids, `${method} ${path}`),
    ): Promise<Response> {
      const address = fill(path) + (FILES.find(([ends]) => ends.test(`${method} ${path}`))?.[1] ?? '')
      if (method === 'GET') return person.request(address)
      if (`${method} ${path}`.endsWith('/thumbnail')) {
        const form = new FormData()
        form.set('from', '1')
        form.set('thumbnail', '{"from":"frame","frame":0}')
        return person.request(address, { method, body: form })
      }
      if (FILES.some(([ends]) => ends.test(`${method} ${path}`)))
        return person.request(address, { method, body: new Uint8Array(blotPng(9)) })
      return person.request(address, {
        method,
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      })
    },
  }
}
export type EveryRoute = ReturnType<typeof everyRoute>

/** A server with one thing of each kind in its owner's library, and all of its routes. */
export async function startWithAll(databaseUrl: string) {
  const server = await startTestServer(databaseUrl)
  const owner = await server.owner()
  await takeInFiles(owner, {
    'Shore/blot.png': blotPng(1),
    'Shore/tuft.png': blotPng(2),
    'x/sand.png': encodePng(waveTile()),
  })
  await releaseAndDownload(server, owner)
  const ids = await collectIds(owner, server.parts.deps.db)
  return { server, owner, ids, every: everyRoute(server, ids) }
}
