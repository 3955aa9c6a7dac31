import * as v from 'valibot'

/** What is read of a workspace's answers; its own description is at /api/openapi.json. */
export const Made = v.object({ id: v.string() })
export const Anything = v.unknown()
export const Ledger = v.object({
  files: v.object({ total: v.number(), read: v.number() }),
  tally: v.object({ take: v.number(), skip: v.number(), refuse: v.number() }),
  reading: v.nullable(v.object({ done: v.number(), total: v.number() })),
})
export const Lines = v.object({
  lines: v.array(v.object({ path: v.string(), name: v.string(), outcome: v.string(), reason: v.string() })),
})
export const Taken = v.object({ brushes: v.optional(v.number()) })
export const Brushes = v.object({
  brushes: v.array(
    v.object({
      id: v.string(),
      name: v.string(),
      maker: v.string(),
      sizePx: v.number(),
      frames: v.number(),
      reading: v.string(),
    }),
  ),
})
export const Packs = v.object({ packs: v.array(v.object({ id: v.string(), title: v.string() })) })
export const Pack = v.object({
  id: v.string(),
  title: v.string(),
  releases: v.array(v.object({ id: v.string(), version: v.string(), state: v.string() })),
})
const Counts = v.object({
  changed: v.number(),
  fresh: v.number(),
  found: v.number(),
  renamed: v.number(),
  gone: v.number(),
  refused: v.number(),
})
export const Following = v.object({ day: v.string(), wanted: v.array(v.string()), reading: v.number(), today: Counts })
export const Looked = v.object({ ...Following.entries, before: Counts })
export const Given = v.object({ id: v.string(), link: v.string() })
export const Begun = v.object({ jobId: v.string() })
export const Tasks = v.object({
  jobs: v.array(
    v.object({
      id: v.string(),
      title: v.string(),
      state: v.string(),
      done: v.number(),
      total: v.number(),
      error: v.nullable(v.string()),
    }),
  ),
})
