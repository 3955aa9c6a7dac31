import { type EditionPlan, POCKET_MAX } from '../editions/plan.ts'

/**
 * Names the brushes that are kept beside those that go, wherever a plan of an edition names these: releases that were made
 * before hold the ones that go, later ones those that are kept.
 */
export function nameKept(plan: EditionPlan, keptOf: ReadonlyMap<string, string>): EditionPlan {
  const beside = (ids: readonly string[]) => [...new Set(ids.flatMap((id) => [id, keptOf.get(id) ?? id]))]
  const pocket = plan.pocket?.flatMap((entry) => {
    const kept = keptOf.get(entry.brush)
    const isThere = plan.pocket?.some(({ brush, sizePx }) => brush === kept && sizePx === entry.sizePx)
    return kept === undefined || isThere ? [entry] : [entry, { ...entry, brush: kept }]
  })
  return {
    ...plan,
    brushes: beside(plan.brushes),
    without: beside(plan.without),
    // one that is full stays as it is
    pocket: pocket && pocket.length <= POCKET_MAX ? pocket : plan.pocket,
    kit: plan.kit && { ...plan.kit, lessons: plan.kit.lessons.map((l) => ({ ...l, brushes: beside(l.brushes) })) },
  }
}
