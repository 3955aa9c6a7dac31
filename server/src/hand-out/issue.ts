import { type CopyMark, checkMark, signMark } from '@satchel/core/pack/issued/mark'
import { checkSignature } from '@satchel/node/signature'
import { findIssued, type HandOut } from '../db/hand-outs.ts'
import type { Release } from '../db/releases.ts'
import { listSigningKeys } from '../db/signing-keys.ts'
import type { Deps } from '../deps.ts'
import { Refusal } from '../errors.ts'
import { isLook } from './look-ahead.ts'
import type { CopyFor } from './part-file.ts'

/**
 * Whose copy a hand-out's downloads are. Who only looks ahead has none; where the key cannot be opened people still get what was
 * released, which says nothing of them.
 */
export async function copyOf(
  { signing, log }: Pick<Deps, 'signing' | 'log'>,
  handOut: HandOut,
  { workspaceId, manifest, version }: Pick<Release, 'workspaceId' | 'manifest' | 'version'>,
): Promise<CopyFor | undefined> {
  if (isLook(handOut)) return undefined
  const signer = await signing.signerOf(workspaceId).catch((error: unknown) => {
    if (!(error instanceof Refusal)) throw error
    log.error({ err: error, workspace: workspaceId }, 'a copy was given that says nothing of whom it is for')
    return undefined
  })
  if (!signer) return undefined
  const mark = signMark({ to: handOut.name, of: `${manifest.title} ${version}`, copy: handOut.id }, signer)
  return { mark, signer }
}

/** What is known here of marks that were found in files, in their order. */
export async function whoseCopies({ db }: Pick<Deps, 'db'>, workspaceId: string, marks: readonly CopyMark[]) {
  const keys = await listSigningKeys(db, workspaceId)
  const issued = await findIssued(
    db,
    workspaceId,
    marks.map(({ copy }) => copy),
  )
  const byId = new Map(issued.map((each) => [each.id, each]))
  return marks.map((mark) => ({
    /** Whether it is as a key of this workspace has signed it, be it retired by now. */
    isGenuine: keys.some(({ publicKey }) => checkMark(mark, publicKey, checkSignature)?.isValid === true),
    handOut: byId.get(mark.copy) ?? null,
  }))
}
