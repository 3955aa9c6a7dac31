import * as v from 'valibot'
import { RECIPE_VERSION } from '../brush/recipe.ts'
import { FormatError } from '../errors.ts'
import { parseJson } from '../formats/json.ts'
import { MANIFEST_PATH, PACK, PACK_FORMAT, PACK_VERSION, PackManifest } from './manifest.ts'
import { migrateManifest } from './migrate.ts'
import { checkReferences } from './references.ts'

/**
 * Reads the text of pack.json, of any version this product has written.
 * @throws {FormatError} If it is no such pack, is newer than this product, or a reference in it leads nowhere.
 */
export function parseManifest(text: string): PackManifest {
  return toManifest(parseJson(text, `${PACK} (${MANIFEST_PATH})`))
}

/**
 * A manifest that this product has stored, brought to this version of packs and recipes. One that is of this version already
 * was checked when it was written, and is not checked again: it may hold 20,000 brushes.
 * @throws {FormatError} If it is newer than this product, or can't be brought up to date.
 */
export function bringUpToDate(stored: unknown): PackManifest {
  const manifest = stored as PackManifest
  const isOfNow =
    manifest.version === PACK_VERSION && manifest.brushes.every(({ recipe }) => recipe.version === RECIPE_VERSION)
  return isOfNow ? manifest : toManifest(stored)
}

function toManifest(value: unknown): PackManifest {
  if (typeof value !== 'object' || value === null || !('format' in value) || value.format !== PACK_FORMAT)
    throw new FormatError(PACK, undefined, `format "${PACK_FORMAT}"`)
  const result = v.safeParse(PackManifest, migrateManifest(value as Record<string, unknown>, PACK_VERSION))
  if (!result.success) {
    const [issue] = result.issues
    const wanted = issue.type === 'check' ? issue.message : (issue.expected ?? issue.message)
    throw new FormatError(
      PACK,
      undefined,
      `${v.getDotPath(issue) ?? 'pack.json'} to be ${wanted}, found ${issue.received}`,
    )
  }
  checkReferences(result.output)
  return result.output
}
