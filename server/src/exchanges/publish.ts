import { createReadStream } from 'node:fs'
import { withdrawalText } from '@satchel/core/exchange/protocol'
import { toUtf8 } from '@satchel/core/formats/text'
import type { Part } from '@satchel/core/pack/parts'
import { nodeHashBytes } from '@satchel/node/hash'
import type { AppDeps } from '../app-deps.ts'
import { findPublished, notePublished, noteWithdrawn } from '../db/exchanges.ts'
import { findRelease } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { Problem, Refusal } from '../errors.ts'
import { partFile } from '../hand-out/part-file.ts'
import { type JobHandler, JobRefused, JobStopped } from '../queue/queue.ts'
import { Exchange, ExchangeProblem, findExchange } from './ask.ts'

/** The one file with everything, as it was released: it is nobody's copy. */
const PART: Part = { as: { kind: 'satchel' }, of: { kind: 'all' } }
/** What an exchange takes, and what is held here while it is sent. */
const PACK_MAX_BYTES = 64 * 1024 ** 2

/** Sends a release to an exchange. Exchanges take the same release twice as once, so a job that was lost in the middle begins anew. */
export const publishReleaseJob = (deps: Deps & Pick<AppDeps, 'exchanges'>): JobHandler<'publish-release'> => ({
  async run({ job: { workspaceId, subjectId }, payload, signal }) {
    const release = await findRelease(deps.db, workspaceId, subjectId)
    if (!release) throw new JobStopped()
    const { host, ...said } = payload
    try {
      const there = new Exchange(findExchange(deps.exchanges, host), deps)
      const card = await there.ask('/exchange.json', 'card')
      const bytes = await readPack(deps, release)
      signal.throwIfAborted()
      const query = new URLSearchParams({ about: said.about, notes: said.notes, tags: said.tags.join(',') })
      const item = await send(there, card.items, query, bytes)
      const { packId, version } = release
      await notePublished(deps.db, { workspaceId, packId, version, host, title: card.title, item })
    } catch (error) {
      if (error instanceof Problem || error instanceof Refusal) throw new JobRefused(error.message)
      throw error
    }
    await deps.events.publish({ workspaceId, topic: 'packs' })
  },
})

async function send(there: Exchange, items: string, query: URLSearchParams, body: Uint8Array): Promise<string> {
  const sha256 = nodeHashBytes(body)
  const path = `${items}?${query}`
  const { id, version } = await there.ask(path, 'published', { method: 'PUT', body, type: 'application/zip' })
  // what it says it has must be what was sent
  const { _satchel } = await there.ask(`${items}/${id}.json`, 'item')
  if (!_satchel.releases.some((each) => each.version === version && each.sha256 === sha256))
    throw new ExchangeProblem(
      502,
      `The exchange ${there.host} took the release and lists another one; look at its page.`,
    )
  return id
}

type Release = NonNullable<Awaited<ReturnType<typeof findRelease>>>

async function readPack(deps: Deps, release: Release): Promise<Uint8Array> {
  const { zipSha, sizeBytes, stretches } = await partFile(deps, release, PART)
  if (sizeBytes > PACK_MAX_BYTES)
    throw new Refusal(
      'unfit',
      `This release is larger than the ${PACK_MAX_BYTES / 1024 ** 2} MiB that exchanges take; publish a smaller pack.`,
    )
  const [only] = stretches ?? []
  if (!only || !('at' in only) || stretches?.length !== 1) throw new Error('a Satchel pack lies in one piece')
  const path = await deps.blobs.path(release.workspaceId, zipSha)
  const pieces: Uint8Array[] = []
  for await (const piece of createReadStream(path, { start: only.at, end: only.at + only.length - 1 }))
    pieces.push(piece as Uint8Array)
  return new Uint8Array(Buffer.concat(pieces))
}

/** Takes an item away from an exchange, by a signature of this moment. */
export async function withdraw(deps: AppDeps, workspaceId: string, id: string): Promise<string | undefined> {
  const row = await findPublished(deps.db, workspaceId, id)
  if (!row) return undefined
  const there = new Exchange(findExchange(deps.exchanges, row.host), deps)
  const card = await there.ask('/exchange.json', 'card')
  const at = new Date().toISOString()
  const signer = await deps.signing.signerOf(workspaceId)
  const signature = Buffer.from(signer.sign(toUtf8(withdrawalText(row.item, at)))).toString('base64url')
  const body = toUtf8(JSON.stringify({ at, signature }))
  try {
    await there.ask(`${card.items}/${row.item}/withdraw`, 'withdrawn', {
      method: 'POST',
      body,
      type: 'application/json',
    })
  } catch (error) {
    // it is gone there already: an answer was lost
    if (!(error instanceof ExchangeProblem && error.answered === 410)) throw error
  }
  await noteWithdrawn(deps.db, workspaceId, id)
  return row.title
}
