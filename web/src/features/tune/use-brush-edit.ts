import { Recipe } from '@satchel/core/brush/recipe'
import { useQueryClient } from '@tanstack/react-query'
import { useMemo } from 'react'
import * as v from 'valibot'
import { useAhead } from '../../ahead/use-ahead.ts'
import { toastError } from '../../components/toasts.tsx'
import { type Brush, brushQuery, type Facts, goToVersion, saveBrush } from '../../data/brush.ts'
import { useRefresh } from '../../data/use-refresh.ts'

const KeptFacts = v.object({
  name: v.string(),
  maker: v.string(),
  licence: v.string(),
  tags: v.array(v.string()),
  recipe: Recipe,
})
const factsOf = ({ name, maker, licence, tags, recipe }: Brush): Facts => ({ name, maker, licence, tags, recipe })
const ofServer = (brush: Brush) => ({ value: factsOf(brush), version: brush.version })

/**
 * A brush's facts and recipe ahead of the server. Undo and redo walk the saved versions, so they outlive the page.
 */
export function useBrushEdit(brush: Brush) {
  const ask = useRefresh()
  const client = useQueryClient()
  const { id } = brush
  const key = useMemo(() => brushQuery(id).queryKey, [id])
  const latest = () => client.getQueryData(key) ?? brush
  const refresh = async () => {
    await ask(key)
    void ask('brushes')
  }
  const ahead = useAhead<Facts>({
    key: `brush-${id}`,
    server: ofServer(brush),
    known: () => ofServer(latest()),
    parse: (kept) => v.parse(KeptFacts, kept),
    async save(facts, base) {
      const { version } = await saveBrush(id, facts, base)
      client.setQueryData(key, (old) => old && { ...old, ...facts, ...savedAs(version, old.versions) })
      await refresh()
      return { version }
    },
    refresh,
  })
  /** Goes to the version that `pick` names, after everything changed before has been saved. */
  const go = (pick: (at: { version: number; newest: number }) => number) =>
    ahead
      .make(async (version) => {
        const newest = latest().versions[0]?.ordinal ?? version
        const wanted = Math.min(newest, Math.max(1, pick({ version, newest })))
        if (wanted !== version) await goToVersion(id, wanted)
      })
      .catch(toastError)

  const newest = brush.versions[0]?.ordinal ?? brush.version
  return {
    ...ahead,
    change: (next: Partial<Facts>) => ahead.change((facts) => ({ ...facts, ...next })),
    undo: () => go(({ version }) => version - 1),
    redo: () => go(({ version }) => version + 1),
    goTo: (ordinal: number) => go(() => ordinal),
    canUndo: brush.version > 1 || ahead.isChanged,
    canRedo: !ahead.isChanged && brush.version < newest,
  }
}

/** The history with a version more, which takes the place of those that had been undone. */
const savedAs = (version: number, versions: Brush['versions']) => ({
  version,
  versions: [
    { ordinal: version, label: '', createdAt: new Date().toISOString() },
    ...versions.filter(({ ordinal }) => ordinal < version),
  ],
})
