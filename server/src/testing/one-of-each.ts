import { createHash, randomUUID } from 'node:crypto'
import { BUILT_IN } from '@satchel/core/destinations/built-in'
import { wholePlan } from '@satchel/core/editions/plan'
import type { Db } from '../db/database.ts'
import { listPublished, notePublished } from '../db/exchanges.ts'
import { addCard } from '../db/setup-cards.ts'
import { gatherFiles } from './gather.ts'
import { type Person, until } from './test-server.ts'
import { blotPng } from './tips.ts'

/** A destination of one's own. */
export const ownDestination = { ...BUILT_IN.dunlin, name: 'Redshank' }

/** A cover with a stroke of a brush. */
export const coverOf = (brushId: string) => ({
  ...{ ground: '#ffffff', title: 'Shore', titleColour: '#000000', titlePlace: 'above' },
  strokes: [{ brushId, colour: '#333333', top: 1, height: 0.3 }],
})

/** A file that goes up in pieces. */
export const toCome = { path: 'later.zip', sizeBytes: 9_000_000, modifiedMs: 1 }

/** An exchange that is not reached from here. */
export const HOST = 'exchange.example'

/** A folder that is followed, and what lies in it. */
export const toFollow = { name: 'Sketches', by: 'program', zone: 'Europe/Oslo' }
export const leaf = { path: 'leaf.png', sha256: createHash('sha256').update(blotPng(9)).digest('hex'), sizeBytes: 1 }

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
export async function collectIds(owner: Person, db: Db): Promise<Ids> {
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
