import { INVITATION_DAYS } from '@satchel/core/forms/members'
import { measureSeamFigures } from '@satchel/core/grain/seam'
import type { PixelSha } from '@satchel/core/hashes'
import type { AuditKind } from '@satchel/core/members/audit'
import { ROLES } from '@satchel/core/members/roles'
import type { Pixels } from '@satchel/core/raster/pixels'
import { demoBrushes } from '@satchel/drawn/demo/brushes'
import { demoGrains } from '@satchel/drawn/demo/grains'
import type { DrawnBrush } from '@satchel/drawn/tuning'
import type { AppDeps } from '../app-deps.ts'
import { insertAuditLines, type NewAuditLine } from '../db/audit.ts'
import { insertInvitation, takeInvitation } from '../db/invitations.ts'
import { entryOf } from '../db/many.ts'
import { addMaterials, type NewMaterial } from '../db/materials.ts'
import { createWorkspace, isEmptyInstall, saveFacts } from '../db/members.ts'
import { setNote } from '../db/pack-brushes.ts'
import { createPack, findPack, setPackSets, updatePack } from '../db/packs.ts'
import { createPocket, pinBrushes } from '../db/pockets.ts'
import { insertBrushes, type NewBrush } from '../db/save-brush.ts'
import type { StoredFrame } from '../db/schema/library.ts'
import { addToSet, ensureSets } from '../db/sets.ts'
import { createRelease } from '../hand-out/create-release.ts'
import { createHandOut } from '../hand-out/hand-outs.ts'
import { createToken, hashToken } from '../hand-out/token.ts'
import { storeDrawn, storePicture } from '../starter/store-drawn.ts'
import { drawFirst } from './first-pictures.ts'
import type { DemoLibrary } from './life.ts'
import { seedSources } from './seed-sources.ts'

/** The demo's sign-in; the start command prints it. */
export const DEMO_EMAIL = 'maren@tidewrack.example'
export const DEMO_PASSWORD = 'saltmarsh-demo'

const MAKER = 'Tidewrack Studio'
const LICENCE = 'CC-BY-4.0'
const DAY_MS = 24 * 60 * 60 * 1000
const HELP = `## To begin with

Start with "Down soft" at *half size* and build up slowly.

- Ropework and kelp follow the stroke: draw **in one go**.
- Shell Stamps set one shell a step; lift the pen to place a single one.`

const NOTES = [
  ['Down soft', 'Hold the pen flat, and build up slowly.'],
  ['Rope, laid whole', 'Draw it in one go: the lay starts anew with each stroke.'],
] as const

/** Who else works there: by the same password, so that two can be tried beside each other. */
const MEMBERS = [
  { name: 'Runa Strandval', email: 'runa@tidewrack.example', role: 'curator' },
  { name: 'Teun Wadloper', email: 'teun@tidewrack.example', role: 'viewer' },
] as const

async function seedMembers({ db, auth }: AppDeps, workspaceId: string): Promise<void> {
  for (const { role, ...person } of MEMBERS) {
    const invited = { role, note: person.name, invitedBy: 'Maren Sandholt', days: INVITATION_DAYS.usual }
    const tokenHash = hashToken(createToken())
    await insertInvitation(db, workspaceId, { ...invited, tokenHash })
    const { user } = await auth.api.signUpEmail({ body: { ...person, password: DEMO_PASSWORD } })
    await takeInvitation(db, tokenHash, { userId: user.id })
    const said = `Joined: ${person.name}, as ${ROLES[role].called.toLowerCase()}`
    await insertAuditLines(db, [{ workspaceId, person: person.name, kind: 'member', said }])
  }
}

/**
 * Fills an empty install with Tidewrack Studio's library, one released pack and three hand-outs. Runs once.
 * @returns What it has filled it with; undefined where there was something already.
 */
export async function seedDemo(deps: AppDeps): Promise<DemoLibrary | undefined> {
  const { db, auth, log } = deps
  if (!(await isEmptyInstall(db))) return undefined
  log.info('drawing the demo library')
  const { user } = await auth.api.signUpEmail({
    body: { name: 'Maren Sandholt', email: DEMO_EMAIL, password: DEMO_PASSWORD },
  })
  const workspaceId = await createWorkspace(db, MAKER, user.id)
  await saveFacts(db, workspaceId, { maker: MAKER, licence: LICENCE })
  const drawn = demoBrushes()
  const grains = await storeGrains(workspaceId, deps)
  const rows: NewBrush[] = []
  const where = { ...deps, workspaceId }
  for (const each of drawn)
    rows.push(await storeDrawn(withGrain(each, grains), { maker: MAKER, licence: LICENCE }, where))
  const ids = await insertBrushes(db, workspaceId, rows)
  await addMaterials(
    db,
    workspaceId,
    drawn.flatMap(({ name, frames, recipe }, i) =>
      recipe.path.ribbon ? [toMaterial('strip', name, rows[i]?.frames[0], frames[0])] : [],
    ),
  )
  const names = [...new Set(drawn.map((each) => each.set))]
  const { ids: sets } = await ensureSets(db, workspaceId, names)
  for (const name of names) {
    const members = drawn.flatMap((each, i) => (each.set === name ? [entryOf(ids, i)] : []))
    await addToSet(db, workspaceId, known(sets, name.toLowerCase()), members)
  }

  const pocketId = await createPocket(db, workspaceId, { name: 'Evening class' })
  const idOf = new Map(drawn.map(({ name }, i) => [name, entryOf(ids, i)]))
  const favourites = ['Down soft', 'Kelp edge', 'Strand chalk', 'Rope, laid whole', 'Wash out'].map((name) =>
    known(idOf, name),
  )
  await pinBrushes(db, workspaceId, pocketId, favourites)

  const { id: packId } = await createPack(db, workspaceId, {
    title: 'Saltmarsh Sketching',
    maker: MAKER,
    licence: LICENCE,
  })
  await updatePack(db, workspaceId, packId, { help: HELP, coverBrushId: ids[0] ?? null })
  const chosen = ['feather & down', 'kelp & wrack', 'ropework'].map((name) => known(sets, name))
  await setPackSets(db, workspaceId, packId, { setIds: chosen })
  for (const [name, note] of NOTES) await setNote(db, workspaceId, packId, { brushId: known(idOf, name), note })
  const pack = await findPack(db, workspaceId, packId)
  if (!pack) throw new Error('the demo pack was not made')
  const first = { version: '1.0.0', notes: 'First release, for the evening class.' }
  const release = await createRelease(deps, pack, first)
  const handOut = (name: string, more: { endsAt?: Date; downloadLimit?: number } = {}) =>
    createHandOut(deps, workspaceId, {
      ...{ packId, releaseId: release.id, name, follows: false, endsAt: null, downloadLimit: null, editionId: null },
      ...more,
    })
  await handOut('Shoreline Sketching, evening class', { endsAt: new Date(Date.now() + 60 * DAY_MS) })
  await handOut('Odde Brakwater, colleague')
  await handOut('Pim Zeegras, buyer', { downloadLimit: 3 })
  await seedMembers(deps, workspaceId)
  const done: NewAuditLine[] = [
    { kind: 'release', said: 'Released: Saltmarsh Sketching 1.0.0' },
    { kind: 'hand-out', said: 'Handed out: Shoreline Sketching, evening class' },
    { kind: 'hand-out', said: 'Handed out: Odde Brakwater, colleague' },
    { kind: 'hand-out', said: 'Handed out: Pim Zeegras, buyer' },
  ].map((line) => ({ ...line, kind: line.kind as AuditKind, workspaceId, person: user.name }))
  await insertAuditLines(db, done)
  await seedSources(deps, workspaceId)
  await drawFirst(deps, workspaceId, favourites)
  log.info({ brushes: ids.length }, 'demo library is there')
  return {
    workspaceId,
    pack,
    release,
    brushId: (name) => known(idOf, name),
    inSet: (name) => drawn.flatMap((each, i) => (each.set === name ? [entryOf(ids, i)] : [])),
    addSet: (name) =>
      setPackSets(db, workspaceId, packId, { setIds: [...chosen, known(sets, name.toLowerCase())], was: chosen }),
  }
}

const toMaterial = (
  kind: 'grain' | 'strip',
  name: string,
  frame: StoredFrame | undefined,
  pixels: Pixels | undefined,
): NewMaterial => {
  if (!frame || !pixels) throw new Error(`no picture of ${name}`)
  const { across, down } = measureSeamFigures(pixels)
  return { kind, name, ...frame, seamAcross: across, seamDown: down }
}

/** @throws {Error} If nothing has that name. */
function known<Value>(values: ReadonlyMap<string, Value>, name: string): Value {
  const value = values.get(name)
  if (value === undefined) throw new Error(`nothing is called ${name}`)
  return value
}

/** Stores the demo's grains. @returns The names of their pixels by what they are called. */
async function storeGrains(workspaceId: string, deps: AppDeps): Promise<Map<string, PixelSha>> {
  const shas = new Map<string, PixelSha>()
  for (const [name, pixels] of demoGrains()) {
    const frame = await storePicture(pixels, { ...deps, workspaceId })
    await addMaterials(deps.db, workspaceId, [toMaterial('grain', name, frame, pixels)])
    shas.set(name, frame.pixelSha)
  }
  return shas
}

function withGrain(brush: DrawnBrush, grains: ReadonlyMap<string, PixelSha>): DrawnBrush {
  const settings = brush.recipe.ground.grain
  const sha256 = grains.get(brush.grain ?? '')
  if (!settings) return brush
  if (sha256 === undefined) throw new Error(`no grain called ${brush.grain}`)
  return { ...brush, recipe: { ...brush.recipe, ground: { grain: { ...settings, sha256 } } } }
}
