import { EXIT } from '../problems.ts'
import { say, sayJson } from '../say.ts'
import { Begun, Brushes, Tasks } from './answers.ts'
import { type Where, Workspace } from './connection.ts'
import { ended } from './ended.ts'

const PAGE = 200

/** Names the brushes of a workspace, or those that are found by words. */
export async function listBrushes(options: Where & { find: string; json: boolean }): Promise<number> {
  const there = new Workspace(options)
  const all: unknown[] = []
  const words = options.find ? `&q=${encodeURIComponent(options.find)}` : ''
  for (let from = 0; ; from += PAGE) {
    const { brushes } = await there.get(`/api/brushes?from=${from}&limit=${PAGE}${words}`, Brushes)
    for (const brush of brushes) {
      all.push(brush)
      const { name, maker, sizePx, frames, reading } = brush
      const facts = [
        `${sizePx} px`,
        reading,
        ...(frames > 1 ? [`${frames} frames`] : []),
        ...(maker ? [`by ${maker}`] : []),
      ]
      if (!options.json) say(`${name} (${facts.join(', ')})`)
    }
    if (brushes.length < PAGE) break
  }
  if (options.json) sayJson(all)
  return EXIT.done
}

/** Measures how like itself each brush arrives at each destination, where that is not known yet. */
export async function measureAll(options: Where & { json: boolean }): Promise<number> {
  const there = new Workspace(options)
  const { jobId } = await there.post('/api/fit/measure', Begun)
  const task = await ended(there, jobId, async () => {
    const { jobs } = await there.get('/api/jobs', Tasks)
    return jobs.find(({ id }) => id === jobId)
  })
  if (options.json) sayJson(task)
  else say(`Measured: ${task.done} of ${task.total}.`)
  return EXIT.done
}
