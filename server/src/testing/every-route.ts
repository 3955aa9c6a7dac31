import { defaultRecipe } from '@satchel/core/brush/recipe'
import { wholePlan } from '@satchel/core/editions/plan'
import { usualSteps } from '@satchel/core/make/steps'
import { encodePng } from '@satchel/node/png'
import { takeInFiles } from './gather.ts'
import { collectIds, coverOf, HOST, type Ids, leaf, ownDestination, toCome, toFollow } from './one-of-each.ts'
import { releaseAndDownload } from './release.ts'
import { type Person, startTestServer, type TestServer } from './test-server.ts'
import { blotPng, waveTile } from './tips.ts'

export type { Ids }

/** Routes that anybody may ask: signing in, and the pages behind a link. */
const OPEN = /^\/api\/(session|invitations|h|p|m|auth|sales|bounces)(\/|$)/

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
    'POST /api/sets/inside': { ids: [ids.set], folder: 'Theirs' },
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
