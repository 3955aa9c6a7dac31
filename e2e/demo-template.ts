import { chmodSync, lstatSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openSatchel, TEMPLATE } from './harness.ts'

/** Draws the demo library once, for all journeys: it takes longer than most of them. @returns What clears it away again. */
export default async function makeTemplate(): Promise<() => void> {
  const folder = mkdtempSync(join(tmpdir(), 'satchel-e2e-demo-'))
  chmodSync(folder, 0o755)
  const satchel = await openSatchel({ demo: true, folder })
  await satchel.close({ keep: true })
  // where the account of PostgreSQL has to keep its files elsewhere, a copy would be no copy
  if (!lstatSync(join(folder, 'postgres', 'cluster')).isSymbolicLink()) process.env[TEMPLATE] = folder
  return () => rmSync(folder, { recursive: true, force: true })
}
