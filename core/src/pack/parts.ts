/** What is asked of a download: for whom, and how much. */
export type Part = {
  /** An app by its id, the open files, or the one file with everything for Gentle Satchel. */
  as: { kind: 'app'; id: string } | { kind: 'open' } | { kind: 'satchel' }
  /** Everything, a set by its place in the manifest, or a brush by its id. */
  of: { kind: 'all' } | { kind: 'set'; at: number } | { kind: 'brush'; id: string }
}

/** What to do with a part, in words; it lies in each archive that is a part of a download. */
export const STEPS_PATH = 'STEPS.txt'

/** No manifest has as many sets. */
export const SETS_MAX = 100_000

const AS_WORDS = /^(?:app\.(.{1,100})|(open)|(satchel))$/s
const OF_WORDS = /^(?:(all)|set\.(\d{1,6})|brush\.(.{1,100}))$/s

export const nameOfPart = ({ as, of }: Part): { as: string; of: string } => ({
  as: as.kind === 'app' ? `app.${as.id}` : as.kind,
  of: of.kind === 'set' ? `set.${of.at}` : of.kind === 'brush' ? `brush.${of.id}` : of.kind,
})

/** The part that an address names; `undefined` where it names none. */
export function readPart(as: string, of: string): Part | undefined {
  const [, app, open] = AS_WORDS.exec(as) ?? []
  const [, all, set, brush] = OF_WORDS.exec(of) ?? []
  if (!AS_WORDS.test(as) || !OF_WORDS.test(of)) return undefined
  return {
    as: app !== undefined ? { kind: 'app', id: app } : { kind: open === undefined ? 'satchel' : 'open' },
    of: all
      ? { kind: 'all' }
      : set !== undefined
        ? { kind: 'set', at: Number(set) }
        : { kind: 'brush', id: brush ?? '' },
  }
}

/**
 * What somebody does with the files of an app, or with open files, after fetching them. A sentence each.
 * @param zipName What the archive is called, where that is known.
 */
export function stepsOf(
  app: { name: string; folder: string; afterCopying: readonly string[] } | undefined,
  zipName?: string,
): string[] {
  const unpack = `Unpack ${zipName === undefined ? 'what you got' : `"${zipName}"`}: on most systems, open it and drag out what is in it.`
  if (!app)
    return [
      unpack,
      'Copy the brush files (GBR, GIH) or the pictures (PNG) to where your app looks for brushes. Its help says where that is.',
      'Start your app anew if it does not show them.',
    ]
  return [
    unpack,
    `Copy what is in the folder "${app.folder}" into the brush folder of ${app.name}.`,
    ...(app.afterCopying.length > 0 ? app.afterCopying : [`Start ${app.name} anew if it does not show them.`]),
  ]
}
