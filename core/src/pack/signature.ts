/** The Ed25519 signature (RFC 8032) of the bytes of the checksums beside it: 64 bytes. */
export const SIGNATURE_PATH = 'SHA256SUMS.sig'
/** Whose: the public key as SubjectPublicKeyInfo (RFC 8410) in PEM (RFC 7468). */
export const SIGNER_PATH = 'SIGNER.pem'

/** Files of an archive that have no checksum of their own: they are about the checksums. */
export const UNLISTED_PATHS: readonly string[] = [SIGNATURE_PATH, SIGNER_PATH]

/** Signs what is handed out. */
export type Signer = {
  /** The public key, PEM. */
  pem: string
  sign(bytes: Uint8Array): Uint8Array
}

/** Tells who has signed something: the fingerprint of the key, and whether the signature is of these bytes. */
export type CheckSignature = (
  pem: string,
  bytes: Uint8Array,
  signature: Uint8Array,
) => { fingerprint: string; isValid: boolean } | undefined
