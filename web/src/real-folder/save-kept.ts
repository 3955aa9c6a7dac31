import { ZipWriter } from '@satchel/core/formats/zip/write'
import { saveFile } from '../components/save-file.ts'
import { browserStore, type FolderLedger } from './ledger.ts'

/** How many files of the person an install, and nobody else, has covered in a folder. */
export const coveredBy = ({ places }: FolderLedger, install: string): { path: string; sha256: string }[] =>
  [...places].flatMap(([path, { theirs, claims }]) =>
    claims.every((claim) => claim.install === install) ? theirs.map((sha256) => ({ path, sha256 })) : [],
  )

/** Has the browser save what an install has covered as a zip; before what is kept of it is let go. */
export async function saveCovered(ledger: FolderLedger, install: string): Promise<void> {
  const zip = new ZipWriter()
  const parts: Uint8Array[] = []
  const taken = new Set<string>()
  for (const { path, sha256 } of coveredBy(ledger, install)) {
    const bytes = await browserStore.readKept(ledger.id, sha256)
    if (!bytes) continue
    // several of one path lie beside one another, the oldest under its own name
    const name = taken.has(path) ? `${sha256.slice(0, 8)}/${path}` : path
    taken.add(path)
    parts.push(...zip.add(name, new Uint8Array(bytes), 'store'))
  }
  parts.push(...zip.finish())
  saveFile(new Blob(parts as BlobPart[], { type: 'application/zip' }), `${ledger.name} before.zip`)
}
