import {
  createHash,
  createPrivateKey,
  createPublicKey,
  generateKeyPairSync,
  type KeyObject,
  sign as signBytes,
  verify as verifyBytes,
} from 'node:crypto'
import type { CheckSignature, Signer } from '@satchel/core/pack/signature'

const GROUP = /.{4}/g

const toPem = (key: KeyObject) => key.export({ type: 'spki', format: 'pem' }).toString()

/** A key pair to sign with: its private half as PKCS #8 in PEM (RFC 8410). */
export function createSigningKey(): { privatePem: string; publicPem: string } {
  const { privateKey, publicKey } = generateKeyPairSync('ed25519')
  return { privatePem: privateKey.export({ type: 'pkcs8', format: 'pem' }).toString(), publicPem: toPem(publicKey) }
}

/** The public half of a private key. @throws {Error} If it is no private key of Ed25519. */
export function publicPemOf(privatePem: string): string {
  const key = createPrivateKey(privatePem)
  if (key.asymmetricKeyType !== 'ed25519') throw new Error('a private key of Ed25519 is wanted')
  return toPem(createPublicKey(key))
}

/** Signs by a private key. Ed25519 draws nothing: the same bytes have the same signature. @throws {Error} As `publicPemOf`. */
export function openSigner(privatePem: string): Signer {
  const key = createPrivateKey(privatePem)
  return { pem: publicPemOf(privatePem), sign: (bytes) => new Uint8Array(signBytes(null, bytes, key)) }
}

/** SHA-256 of a public key's bytes as they are in DER, in groups of four signs, to be read aloud. */
export function fingerprintOf(pem: string): string {
  const der = createPublicKey(pem).export({ type: 'spki', format: 'der' })
  return createHash('sha256').update(der).digest('hex').match(GROUP)?.join(' ') ?? ''
}

/** @returns Undefined where that is no public key of Ed25519. */
export const checkSignature: CheckSignature = (pem, bytes, signature) => {
  try {
    const key = createPublicKey(pem)
    if (key.asymmetricKeyType !== 'ed25519') return undefined
    return { fingerprint: fingerprintOf(pem), isValid: verifyBytes(null, bytes, key, signature) }
  } catch {
    return undefined // whatever stands there is no key
  }
}
