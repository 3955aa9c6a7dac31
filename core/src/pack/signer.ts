import { FormatError } from '../errors.ts'
import { fromUtf8 } from '../formats/text.ts'
import type { ByteSource, ZipEntry } from '../formats/zip/layout.ts'
import { readZipEntry, type ZipCodecs } from '../formats/zip/read.ts'
import type { HashBytes } from '../hashes.ts'
import { MANIFEST_MAX_BYTES } from '../limits.ts'
import { MANIFEST_PATH } from './manifest.ts'
import { type CheckSignature, SIGNATURE_PATH, SIGNER_PATH } from './signature.ts'
import { parseSums, SUMS_PATH } from './sums.ts'

/** What is needed to tell whose a pack is. */
export type SignerTools = { codecs: ZipCodecs; hash: HashBytes; checkSignature: CheckSignature }

/**
 * Whose key has signed a Satchel pack. Pictures lie in it by the names of their pixels, which its manifest says, so the manifest
 * stands for all that is painted.
 * @returns The key's fingerprint; undefined where nobody has signed it, or it is not as it was signed.
 * @throws {LimitError} If a text in it is larger than it may be.
 */
export async function findSigner(
  source: ByteSource,
  entries: readonly ZipEntry[],
  { codecs, hash, checkSignature }: SignerTools,
): Promise<string | undefined> {
  const byPath = new Map(entries.map((entry) => [entry.path, entry]))
  const texts: Uint8Array[] = []
  for (const path of [MANIFEST_PATH, SUMS_PATH, SIGNATURE_PATH, SIGNER_PATH]) {
    const entry = byPath.get(path)
    if (!entry || entry.sizeBytes > MANIFEST_MAX_BYTES) return undefined
    texts.push(await readZipEntry(source, entry, codecs))
  }
  const [manifest, sums, signature, signer] = texts as [Uint8Array, Uint8Array, Uint8Array, Uint8Array]
  try {
    const checked = checkSignature(fromUtf8(signer, SIGNER_PATH, 0), sums, signature)
    if (!checked?.isValid) return undefined
    const listed = parseSums(fromUtf8(sums, SUMS_PATH, 0)).find(({ path }) => path === MANIFEST_PATH)
    return listed?.sha256 === hash(manifest) ? checked.fingerprint : undefined
  } catch (error) {
    if (error instanceof FormatError) return undefined
    throw error
  }
}
