import { LimitError } from '@satchel/core/errors'
import type { ExchangeItemPage } from '@satchel/core/exchange/protocol'
import { UPLOAD_MAX_BYTES } from '@satchel/core/limits'
import { toFileName } from '@satchel/core/pack/file-name'
import { PACK_EXTENSION } from '@satchel/core/pack/manifest'
import type { AppDeps } from '../app-deps.ts'
import { openGather } from '../db/gathers.ts'
import { Problem } from '../errors.ts'
import { takeFile } from '../gather/take-file.ts'
import { checkRoomForFile } from '../library/room.ts'
import { type Exchange, ExchangeProblem } from './ask.ts'

type Wish = { item: string; version: string; only: string[] | null }

/**
 * Puts a release of an exchange into the ledger, all of it or some brushes. Nothing of it stays where it breaks off, or is not what the exchange
 * says that it is.
 * @returns The ledger.
 */
export async function takeFromExchange(
  deps: AppDeps,
  workspaceId: string,
  exchange: Exchange,
  { item, version, only }: Wish,
): Promise<string> {
  const card = await exchange.ask('/exchange.json', 'card')
  const page = await exchange.ask(`${card.items}/${item}.json`, 'item')
  const release = page._satchel.releases.find((each) => each.version === version)
  if (!release)
    throw new ExchangeProblem(
      404,
      `"${page.title}" ${version} is not at ${card.title} any more; choose another release.`,
    )
  checkSize(page, release.sizeBytes)
  await checkRoomForFile(deps, workspaceId, release.sizeBytes)
  const { id: gatherId } = await openGather(deps.db, workspaceId)
  const name = `${toFileName(page.title)} ${version}${PACK_EXTENSION}`
  let isOther = false
  const file = await takeFile(
    deps,
    {
      ...{ workspaceId, gatherId, exchange: { host: exchange.host, title: card.title, item, only } },
      async admit(_tx, sha256) {
        isOther = sha256 !== release.sha256
        return isOther ? undefined : name
      },
    },
    exchange.pack(release.path),
    release.sizeBytes,
  ).catch((error: unknown) => {
    if (error instanceof LimitError) isOther = true
    else throw error
  })
  if (isOther)
    throw new ExchangeProblem(
      502,
      `What ${card.title} sent of "${page.title}" ${version} is not what it lists; nothing was taken.`,
    )
  if (!file) throw new Problem(409, 'The ledger was ended meanwhile; press it once more.')
  return gatherId
}

function checkSize({ title }: ExchangeItemPage, sizeBytes: number): void {
  if (sizeBytes > UPLOAD_MAX_BYTES)
    throw new ExchangeProblem(
      502,
      `"${title}" is larger than ${UPLOAD_MAX_BYTES / 1024 ** 3} GiB, which is more than is taken.`,
    )
}
