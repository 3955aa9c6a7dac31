import * as v from 'valibot'

const Id = v.pipe(v.string(), v.uuid())
const Time = v.string()
const Made = v.looseObject({ id: Id })
const Ok = v.looseObject({ ok: v.literal(true) })

/** What programs are told of a route: its name, what it does, and what it promises of its answer; more may stand there. */
export type Operation = {
  name: string
  tag: Tag
  summary: string
  answer: { status: 200 | 201 | 202; schema: v.GenericSchema }
  /** That a file is sent as it is, in a body of its own kind. */
  takesFile?: true
}

export const TAGS = {
  Workspace: 'What there is, and what is done just now.',
  Gather: 'Files come in, are read, decided on, and taken in.',
  Library: 'Brushes and sets.',
  Fit: 'How like themselves brushes arrive at destinations.',
  'Hand out': 'Packs, releases, and who gets them.',
} as const
export type Tag = keyof typeof TAGS

const ok = (schema: v.GenericSchema) => ({ status: 200 as const, schema })
const made = (schema: v.GenericSchema) => ({ status: 201 as const, schema })

const Tally = v.looseObject({
  waiting: v.number(),
  brushes: v.number(),
  out: v.number(),
  loose: v.number(),
})
const Job = v.looseObject({
  id: Id,
  kind: v.string(),
  title: v.string(),
  state: v.string(),
  done: v.number(),
  total: v.number(),
  error: v.nullable(v.string()),
})
const Ledger = v.looseObject({
  id: Id,
  state: v.string(),
  files: v.looseObject({ total: v.number(), read: v.number() }),
  tally: v.looseObject({ take: v.number(), skip: v.number(), refuse: v.number() }),
  /** None while nothing is read. */
  reading: v.nullable(v.looseObject({ done: v.number(), total: v.number() })),
})
const LedgerLine = v.looseObject({
  id: Id,
  path: v.string(),
  name: v.string(),
  outcome: v.string(),
  reason: v.string(),
})
const DayCounts = v.looseObject({
  changed: v.number(),
  fresh: v.number(),
  found: v.number(),
  renamed: v.number(),
  gone: v.number(),
  refused: v.number(),
})
const Following = v.looseObject({
  day: v.string(),
  wanted: v.array(v.string()),
  reading: v.number(),
  today: DayCounts,
})
const BrushLine = v.looseObject({
  id: Id,
  name: v.string(),
  maker: v.string(),
  tags: v.array(v.string()),
  reading: v.string(),
  frames: v.number(),
  sizePx: v.number(),
})
const SetLine = v.looseObject({ id: Id, name: v.string(), count: v.number() })
const PackLine = v.looseObject({ id: Id, title: v.string() })
const Release = v.looseObject({ id: Id, version: v.string(), state: v.string() })
const Destination = v.looseObject({ id: v.string(), description: v.looseObject({ name: v.string() }) })

/** What of the server programs may count on, a row a route; `routes/openapi.test.ts` holds it against real answers. */
export const OPERATIONS: Readonly<Record<string, Operation>> = {
  'GET /api/workspace/tally': {
    ...{ name: 'countAll', tag: 'Workspace', summary: 'How much waits, is there, is out, and lies loose' },
    answer: ok(Tally),
  },
  'GET /api/jobs': {
    ...{ name: 'listTasks', tag: 'Workspace', summary: 'Tasks that run, and that have ended lately' },
    answer: ok(v.looseObject({ jobs: v.array(Job) })),
  },
  'POST /api/jobs/:id/stop': {
    ...{ name: 'stopTask', tag: 'Workspace', summary: 'Stops a task' },
    answer: ok(Ok),
  },
  'POST /api/gathers': {
    ...{ name: 'openLedger', tag: 'Gather', summary: 'Opens the ledger, or gives the one that is open' },
    answer: made(Made),
  },
  'PUT /api/gathers/:id/files': {
    ...{ name: 'sendFile', tag: 'Gather', summary: 'Sends a file, which is read then' },
    takesFile: true,
    answer: made(Made),
  },
  'GET /api/gathers/:id': {
    ...{
      name: 'readLedger',
      tag: 'Gather',
      summary: 'How far reading is, and how many lines are taken, skipped and refused',
    },
    answer: ok(Ledger),
  },
  'GET /api/gathers/:id/lines': {
    ...{ name: 'listLines', tag: 'Gather', summary: 'Lines of the ledger, in their order' },
    answer: ok(v.looseObject({ lines: v.array(LedgerLine) })),
  },
  'POST /api/gathers/:id/take': {
    ...{ name: 'takeIn', tag: 'Gather', summary: 'Takes in what is to be taken' },
    answer: ok(v.looseObject({})),
  },
  'POST /api/gathers/:id/undo': {
    ...{ name: 'undoTakeIn', tag: 'Gather', summary: 'Takes back what was taken in by a ledger' },
    answer: ok(v.looseObject({})),
  },
  'POST /api/gathers/:id/cancel': {
    ...{ name: 'dropLedger', tag: 'Gather', summary: 'Drops a ledger with all that came' },
    answer: ok(v.looseObject({})),
  },
  'POST /api/followed': {
    ...{ name: 'followFolder', tag: 'Gather', summary: 'Follows a folder, or goes on with the one at that place' },
    answer: made(v.looseObject({ id: Id, isNew: v.boolean() })),
  },
  'PUT /api/followed/:id/files': {
    ...{ name: 'sendFollowedFile', tag: 'Gather', summary: 'Sends a file of a followed folder that is wanted' },
    takesFile: true,
    answer: made(Made),
  },
  'GET /api/followed/:id': {
    ...{
      name: 'readFollowing',
      tag: 'Gather',
      summary: 'What is wanted of a followed folder, and what this day has brought',
    },
    answer: ok(Following),
  },
  'POST /api/followed/:id/look': {
    ...{
      name: 'tellLook',
      tag: 'Gather',
      summary: 'Tells all that lies in a followed folder, each file by its SHA-256',
    },
    answer: ok(v.looseObject({ ...Following.entries, before: DayCounts })),
  },
  'GET /api/brushes': {
    ...{ name: 'listBrushes', tag: 'Library', summary: 'Brushes that are found, in an order, a page at a time' },
    answer: ok(v.looseObject({ brushes: v.array(BrushLine) })),
  },
  'GET /api/brushes/count': {
    ...{ name: 'countBrushes', tag: 'Library', summary: 'How many brushes are found' },
    answer: ok(v.looseObject({ count: v.number() })),
  },
  'GET /api/brushes/:id': {
    ...{ name: 'readBrush', tag: 'Library', summary: 'One brush with its recipe and pictures' },
    answer: ok(v.looseObject({ id: Id, name: v.string(), version: v.number(), recipe: v.looseObject({}) })),
  },
  'GET /api/sets': {
    ...{ name: 'listSets', tag: 'Library', summary: 'Sets of the rack, in its order' },
    answer: ok(v.looseObject({ sets: v.array(SetLine) })),
  },
  'GET /api/fit/destinations': {
    ...{ name: 'listDestinations', tag: 'Fit', summary: 'Apps that brushes can go to' },
    answer: ok(v.looseObject({ destinations: v.array(Destination) })),
  },
  'POST /api/fit/measure': {
    ...{
      name: 'measureFit',
      tag: 'Fit',
      summary: 'Measures every brush at every destination that is not measured yet',
    },
    answer: { status: 202, schema: v.looseObject({ jobId: Id }) },
  },
  'GET /api/packs': {
    ...{ name: 'listPacks', tag: 'Hand out', summary: 'Packs' },
    answer: ok(v.looseObject({ packs: v.array(PackLine) })),
  },
  'GET /api/packs/:id': {
    ...{ name: 'readPack', tag: 'Hand out', summary: 'One pack with its sets, releases and newest hand-outs' },
    answer: ok(v.looseObject({ id: Id, title: v.string(), sets: v.array(SetLine), releases: v.array(Release) })),
  },
  'POST /api/packs/:id/releases': {
    ...{ name: 'release', tag: 'Hand out', summary: 'Releases a pack; its download is built by a task' },
    answer: made(Made),
  },
  'POST /api/packs/:id/hand-outs': {
    ...{ name: 'handOut', tag: 'Hand out', summary: 'Gives a release to somebody by a link of their own' },
    answer: made(v.looseObject({ id: Id, link: v.string() })),
  },
  'POST /api/packs/hand-outs/:id/withdraw': {
    ...{ name: 'withdraw', tag: 'Hand out', summary: 'Ends the link of a hand-out' },
    answer: ok(Ok),
  },
  'GET /api/members/audit': {
    ...{ name: 'listDone', tag: 'Workspace', summary: 'What was done of weight, the latest first' },
    answer: ok(
      v.looseObject({
        lines: v.array(v.looseObject({ id: v.number(), at: Time, person: v.string(), said: v.string() })),
      }),
    ),
  },
}
