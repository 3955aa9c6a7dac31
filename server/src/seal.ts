import { createCipheriv, createDecipheriv, createHmac, hkdfSync, randomBytes } from 'node:crypto'

const CIPHER = 'aes-256-gcm'
const KEY_BYTES = 32
const NONCE_BYTES = 12
const TAG_BYTES = 16

/**
 * Encrypts what is stored and must not be read from a copy of the database: by the server's secret (AES-256-GCM under a key
 * by HKDF, RFC 5869), bound to the workspace and to what it is for.
 */
export class Seal {
  readonly #secret: string
  readonly #purpose: string

  constructor(secret: string, purpose: string) {
    this.#secret = secret
    this.#purpose = purpose
  }

  close(workspaceId: string, text: string): string {
    const nonce = randomBytes(NONCE_BYTES)
    const cipher = createCipheriv(CIPHER, this.#keyOf(workspaceId), nonce)
    const hidden = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()])
    return Buffer.concat([nonce, cipher.getAuthTag(), hidden]).toString('base64url')
  }

  /** @returns Undefined where it was sealed by another secret, or changed since. */
  open(workspaceId: string, sealed: string): string | undefined {
    const bytes = Buffer.from(sealed, 'base64url')
    try {
      const decipher = createDecipheriv(CIPHER, this.#keyOf(workspaceId), bytes.subarray(0, NONCE_BYTES))
      decipher.setAuthTag(bytes.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES))
      const hidden = bytes.subarray(NONCE_BYTES + TAG_BYTES)
      return Buffer.concat([decipher.update(hidden), decipher.final()]).toString('utf8')
    } catch {
      return undefined
    }
  }

  /** Marks a text so that only who has the secret can have marked it (HMAC-SHA256, cut short), in small hexadecimal digits. */
  mark(text: string, bytes: number): string {
    return createHmac('sha256', this.#keyOf('marks')).update(text).digest().subarray(0, bytes).toString('hex')
  }

  #keyOf(workspaceId: string): Uint8Array {
    return new Uint8Array(hkdfSync('sha256', this.#secret, workspaceId, this.#purpose, KEY_BYTES))
  }
}
