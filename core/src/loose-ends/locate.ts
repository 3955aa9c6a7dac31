import { type Reference, resolveTarget } from './references.ts'

/**
 * Where references lead in a library that lies somewhere among other files, as in a zip: beside their settings, or at the
 * path's own place in some folder; where nothing is, at the place where the app would look.
 * @param paths Those of all files.
 */
export function createLocate(paths: readonly string[]): (reference: Reference) => string | undefined {
  const there = new Set(paths)
  const byName = new Map<string, string[]>()
  for (const path of paths) {
    const name = lastPart(path)
    const same = byName.get(name)
    if (same) same.push(path)
    else byName.set(name, [path])
  }
  return (reference) => {
    const beside = resolveTarget(reference, 'beside')
    if (beside !== undefined && there.has(beside)) return beside
    const target = resolveTarget(reference, 'root')
    // it leads out of the folder that its settings lie in, and from no root
    if (target === undefined || target === '') return beside
    const ends = (byName.get(lastPart(target)) ?? []).filter((path) => path === target || path.endsWith(`/${target}`))
    if (ends.length === 1) return ends[0]
    // of several libraries the one that the settings lie in
    const own = ends.find((path) => reference.file.startsWith(path.slice(0, path.length - target.length)))
    return own ?? `${rootOf(reference.file, target)}${target}`
  }
}

const lastPart = (path: string) => path.slice(path.lastIndexOf('/') + 1)

/** The folder from which on the target's first part would be found, as far as the settings' own place tells. */
function rootOf(file: string, target: string): string {
  const [first = ''] = target.split('/')
  const at = `/${file}`.indexOf(`/${first}/`)
  return at < 0 ? '' : file.slice(0, at)
}
