import type { Signer } from '@satchel/core/pack/signature'
import { createSigningKey, fingerprintOf, openSigner, publicPemOf } from '@satchel/node/signature'
import { LRUCache } from 'lru-cache'
import type { Db } from '../db/database.ts'
import { addFirstKey, findSigningKey, listSigningKeys, replaceSigningKey, type SigningKey } from '../db/signing-keys.ts'
import { Refusal } from '../errors.ts'
import { Seal } from '../seal.ts'

const OPENED_KEPT = 50

type SealedKey = Pick<SigningKey, 'workspaceId' | 'publicKey' | 'sealed'>

/**
 * The keys by which workspaces sign their releases. Their private halves are stored sealed, so that a copy of the database
 * signs nothing.
 */
export class Signing {
  readonly #db: Db
  readonly #seals: Seal
  /** Opening a key takes milliseconds, and each copy that somebody fetches is signed. */
  readonly #opened = new LRUCache<string, Signer>({ max: OPENED_KEPT })

  constructor(db: Db, secret: string) {
    this.#db = db
    this.#seals = new Seal(secret, 'signing key')
  }

  /** Who signs for a workspace; its key is made when it is first asked for. @throws {Refusal} If it cannot be opened. */
  async signerOf(workspaceId: string): Promise<Signer> {
    const key = await this.#current(workspaceId)
    const name = `${workspaceId} ${key.sealed}`
    const known = this.#opened.get(name)
    if (known) return known
    const signer = openSigner(this.#open(key))
    this.#opened.set(name, signer)
    return signer
  }

  /** Every key of a workspace, the one that signs first. */
  async list(workspaceId: string) {
    await this.#current(workspaceId)
    return (await listSigningKeys(this.#db, workspaceId)).map(({ id, publicKey, createdAt, retiredAt }) => ({
      id,
      fingerprint: fingerprintOf(publicKey),
      createdAt,
      retiredAt,
    }))
  }

  /** The private half of the key that signs, PEM, for whoever moves to another server. @throws {Refusal} If it cannot be opened. */
  async export(workspaceId: string): Promise<string> {
    return this.#open(await this.#current(workspaceId))
  }

  /** Signs with a new key from now on; what was signed before stays valid by the key that it brings. */
  async rotate(workspaceId: string): Promise<void> {
    await replaceSigningKey(this.#db, this.#seal(workspaceId, createSigningKey().privatePem))
  }

  /** Signs with a key from elsewhere from now on. @throws {Refusal} If it is no private key of Ed25519. */
  async import(workspaceId: string, privatePem: string): Promise<void> {
    let sealed: SealedKey
    try {
      sealed = this.#seal(workspaceId, privatePem)
    } catch {
      throw new Refusal('unfit', 'This is no private key of Ed25519 in PEM; take the file that was exported before.')
    }
    await replaceSigningKey(this.#db, sealed)
  }

  async #current(workspaceId: string): Promise<SigningKey> {
    const known = await findSigningKey(this.#db, workspaceId)
    if (known) return known
    await addFirstKey(this.#db, this.#seal(workspaceId, createSigningKey().privatePem))
    const made = await findSigningKey(this.#db, workspaceId)
    if (!made) throw new Error('the signing key was not inserted')
    return made
  }

  #seal(workspaceId: string, privatePem: string): SealedKey {
    const publicKey = publicPemOf(privatePem)
    return { workspaceId, publicKey, sealed: this.#seals.close(workspaceId, privatePem) }
  }

  #open({ workspaceId, sealed }: SigningKey): string {
    const privatePem = this.#seals.open(workspaceId, sealed)
    if (privatePem !== undefined) return privatePem
    throw new Refusal(
      'clash',
      'The signing key cannot be opened: this server has another secret than the one it was made with. Give it that secret again, take in the key that you exported, or make a new one.',
    )
  }
}
