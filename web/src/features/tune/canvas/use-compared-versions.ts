import type { Recipe } from '@satchel/core/brush/recipe'
import { useQuery } from '@tanstack/react-query'
import { useSearchParams } from 'react-router'
import { type Brush, versionQuery } from '../../../data/brush.ts'
import type { Pictures } from './use-stroke-canvas.ts'

/** A brush at one point of its history. */
export type ShownVersion = { recipe: Recipe; pictures: Pictures; name: string }

/**
 * The versions that are looked at beside each other; the choice is in the address. One is compared with the brush as it is
 * now, two with each other, the older as "before". With none, "before" is the version the page was opened with.
 */
export function useComparedVersions({ id, versions }: Brush, opened: number) {
  const [search, setSearch] = useSearchParams()
  const known = new Set(versions.map(({ ordinal }) => ordinal))
  const chosen = (search.get('compare') ?? '')
    .split(',')
    .map(Number)
    .filter((ordinal) => known.has(ordinal))
    .slice(0, 2)
    .sort((a, b) => a - b)
  const [older = known.has(opened) ? opened : undefined, newer] = chosen
  const before = useQuery(versionQuery(id, older)).data
  const after = useQuery(versionQuery(id, newer)).data
  const choose = (ordinals: readonly number[]) => {
    const next = new URLSearchParams(search)
    if (ordinals.length > 0) next.set('compare', ordinals.join(','))
    else next.delete('compare')
    setSearch(next, { replace: true })
  }
  const nameOf = (ordinal: number) =>
    versions.find((version) => version.ordinal === ordinal)?.label || `version ${ordinal}`
  const toShown = (version: typeof before, ordinal: number | undefined): ShownVersion | undefined => {
    if (!version || ordinal === undefined) return undefined
    const pictures = { frames: version.frames, grainBlob: version.grainBlob }
    return { recipe: version.recipe, pictures, name: chosen.includes(ordinal) ? nameOf(ordinal) : 'before' }
  }
  return {
    chosen,
    before: toShown(before, older),
    /** What stands in the place of the brush as it is now. */
    after: toShown(after, newer),
    /** Takes a version in, or out again; a third takes the place of the one chosen first. */
    toggle: (ordinal: number) =>
      choose(chosen.includes(ordinal) ? chosen.filter((each) => each !== ordinal) : [...chosen.slice(-1), ordinal]),
    stop: () => choose([]),
  }
}
