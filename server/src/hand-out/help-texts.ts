import { type HelpDocument, helpDocument } from '@satchel/core/help/help-document'
import { asWritten, type HelpNode } from '@satchel/core/help/help-page'
import type { PackBrush, PackManifest } from '@satchel/core/pack/manifest'
import { LRUCache } from 'lru-cache'
import type { Deps } from '../deps.ts'
import { TaskGivenUp } from '../errors.ts'

/** Texts that are laid out are kept at hand, of so many signs together. */
const KEPT_SIGNS = 4_000_000
const kept = new LRUCache<string, HelpNode[]>({
  maxSize: KEPT_SIGNS,
  sizeCalculation: (_nodes, text) => text.length + 64,
})

/**
 * Lays out texts that people wrote, in a process that may be given up: a text can be made to be slow. What is given up is
 * shown as it was written.
 */
async function layOutTexts(deps: Deps, texts: readonly string[]): Promise<Map<string, HelpNode[]>> {
  const found = new Map(texts.map((text) => [text, kept.get(text)] as const))
  const missing = [...found].flatMap(([text, nodes]) => (nodes ? [] : [text]))
  if (missing.length > 0) {
    const made = await orGivenUp(deps.workers.run('layOutTexts', { texts: missing }), () => missing.map(asWritten))
    for (const [i, text] of missing.entries()) {
      const nodes = made[i] ?? asWritten(text)
      kept.set(text, nodes)
      found.set(text, nodes)
    }
  }
  return found as Map<string, HelpNode[]>
}

async function orGivenUp<Made>(made: Promise<Made>, plain: () => Made): Promise<Made> {
  try {
    return await made
  } catch (error) {
    if (error instanceof TaskGivenUp) return plain()
    throw error
  }
}

/** A page of help, laid out. */
export async function layOutText(deps: Deps, text: string): Promise<HelpNode[]> {
  return (await layOutTexts(deps, [text])).get(text) ?? []
}

/** The notes on brushes, laid out, by the ids of those that have one. */
export async function layOutNotes(
  deps: Deps,
  brushes: readonly Pick<PackBrush, 'id' | 'note'>[],
): Promise<Map<string, HelpNode[]>> {
  const noted = brushes.filter(({ note }) => note !== '')
  const laidOut = await layOutTexts(
    deps,
    noted.map(({ note }) => note),
  )
  return new Map(noted.map(({ id, note }) => [id, laidOut.get(note) ?? []]))
}

/** Whether a pack says anything to those who get it. */
export const hasHelp = ({ help, brushes }: Pick<PackManifest, 'help' | 'brushes'>): boolean =>
  help.trim() !== '' || brushes.some(({ note }) => note !== '')

/** What a pack says to those who get it, as HTML; undefined where it says nothing. */
export async function helpOf(deps: Deps, { title, help, brushes }: PackManifest): Promise<string | undefined> {
  if (!hasHelp({ help, brushes })) return undefined
  const notes = brushes.flatMap(({ name, note }) => (note === '' ? [] : [{ name, note }]))
  const says: HelpDocument = { title, help, notes }
  return orGivenUp(deps.workers.run('writeHelp', says), () => helpDocument(says, { asWritten: true }))
}
