import { READER_MEMORY_MAX_BYTES } from '@satchel/core/limits'
import { TaskGivenUp } from '../errors.ts'
import type { Tasks } from './tasks.ts'

/**
 * What waits for a task: somebody looks at the place where its picture will be; somebody has asked for it, or a job of theirs;
 * or nobody would miss it yet.
 */
export type Urgency = 'view' | 'asked' | 'behind'

export type TaskLimit = {
  urgency: Urgency
  /** Seconds of computing, on all cores together, after which it is given up. */
  cpuSeconds: number
  /** Memory of the process that does it, all of the program included, after which it is given up. */
  memoryBytes: number
}

const MIB = 1024 * 1024
/** What the program itself takes in a process of its own. */
const PROGRAM_BYTES = 160 * MIB
/** What a sheet may take while it is put together: its pictures pass through, its pages and letters are held. */
const SHEET_MEMORY_BYTES = 600 * MIB
/** Whatever opens a file that somebody brought. */
const READER = { urgency: 'asked', memoryBytes: READER_MEMORY_MAX_BYTES + PROGRAM_BYTES } as const
/** What paints from pictures that are stored already; their sizes are known to be within the limits. */
const PAINTER = { cpuSeconds: 20, memoryBytes: READER_MEMORY_MAX_BYTES + PROGRAM_BYTES } as const

/**
 * The budget of each task, a row each. Only what shows pictures of ours is for view: a stranger's file may take all of its
 * time, and pictures must not wait for it.
 */
export const TASK_LIMITS: { [Task in keyof Tasks]: TaskLimit } = {
  // the largest animated tip that is taken (80 million pixels) is decoded, packed anew and marked in 14 s on a slow core
  readTip: { ...READER, cpuSeconds: 30 },
  readEntry: { ...READER, cpuSeconds: 30 },
  readEntries: { ...READER, cpuSeconds: 30 },
  keysOfMarks: { ...READER, cpuSeconds: 10 },
  // 4 MiB of recipes take a second
  readListing: { ...READER, cpuSeconds: 10 },
  // 500 brushes, each painted once
  listPack: { ...READER, cpuSeconds: 240 },
  openArchive: { ...READER, cpuSeconds: 15 },
  unpackEntry: { ...READER, cpuSeconds: 10 },
  readFrame: { ...READER, cpuSeconds: 20 },
  readThumbnail: { ...READER, cpuSeconds: 10 },
  readReturned: { ...READER, cpuSeconds: 10 },
  // of 256 layers each is looked at for its first guess
  openSource: { ...READER, cpuSeconds: 40 },
  previewSource: { ...READER, cpuSeconds: 20 },
  stackFrames: { ...READER, cpuSeconds: 30 },
  // all steps at full size, for each of up to 256 parts
  makeSource: { ...READER, cpuSeconds: 300 },
  // hashes each file and looks at each row: 4 GiB take half a minute
  unpackLibrary: { ...READER, cpuSeconds: 600 },
  shrink: { ...PAINTER, urgency: 'asked' },
  // 50,000 marks take 10 to 16 s
  findCandidates: { ...PAINTER, urgency: 'behind', cpuSeconds: 180 },
  filterAlike: { ...PAINTER, urgency: 'behind', cpuSeconds: 60 },
  judgeAlike: { ...PAINTER, urgency: 'behind' },
  printAlike: { ...PAINTER, urgency: 'behind' },
  rankLooks: { ...PAINTER, urgency: 'asked', cpuSeconds: 60 },
  measureLook: { ...PAINTER, urgency: 'behind' },
  printPicture: { ...READER, cpuSeconds: 20 },
  signPicture: { ...READER, cpuSeconds: 20 },
  nearestMarks: { ...PAINTER, urgency: 'asked' },
  markLikeness: { ...PAINTER, urgency: 'asked' },
  strokeLikeness: { ...PAINTER, urgency: 'asked' },
  measureSeam: { ...PAINTER, urgency: 'behind' },
  compareFrames: { ...PAINTER, urgency: 'asked' },
  changeFrames: { ...PAINTER, urgency: 'asked', cpuSeconds: 60 },
  renderStroke: { ...PAINTER, urgency: 'view' },
  // a text of 20,000 signs that is made to be slow takes 5 s; all notes of a pack of 20,000 brushes 10 s
  layOutTexts: { ...PAINTER, urgency: 'view', cpuSeconds: 5 },
  writeHelp: { ...PAINTER, urgency: 'asked' },
  // a pack holds 20,000 brushes at most: a second each
  compareReleases: { ...PAINTER, urgency: 'view' },
  checkPack: { ...PAINTER, urgency: 'view' },
  measureBrush: { ...PAINTER, urgency: 'behind', cpuSeconds: 60 },
  closeSeam: { ...PAINTER, urgency: 'asked', cpuSeconds: 60 },
  drawChange: { ...PAINTER, urgency: 'view' },
  paintCover: { ...PAINTER, urgency: 'view' },
  cropCover: { ...READER, cpuSeconds: 10 },
  renderPrinted: { ...PAINTER, urgency: 'asked' },
  // 1,000 brushes: what is painted is only put together
  printSheet: { urgency: 'asked', cpuSeconds: 240, memoryBytes: SHEET_MEMORY_BYTES },
  renderThumbnail: { ...PAINTER, urgency: 'view' },
  renderTip: { ...PAINTER, urgency: 'view' },
  openFiles: { ...PAINTER, urgency: 'asked', cpuSeconds: 60 },
  // a destination is a curator's own description: it is no more to be trusted than a file
  measureFits: { ...PAINTER, urgency: 'asked', cpuSeconds: 60 },
  findBetter: { ...PAINTER, urgency: 'asked', cpuSeconds: 60 },
  drawFit: { ...PAINTER, urgency: 'view' },
  writeFit: { ...PAINTER, urgency: 'asked', cpuSeconds: 120 },
  readStandIn: { ...READER, cpuSeconds: 60 },
  openStandIn: { ...READER, cpuSeconds: 20 },
  drawStandIn: { ...READER, urgency: 'view', cpuSeconds: 20 },
}

/** How much longer than its computing a task may take by the clock: machines are shared, and a process can stand still. */
export const WALL_FACTOR = 8

/** Why a task was given up. */
export type GivenUpFor = 'time' | 'memory' | 'crash'

export const givenUp = (why: GivenUpFor, limit: TaskLimit): TaskGivenUp => new TaskGivenUp(GIVEN_UP[why](limit))

const GIVEN_UP: Record<GivenUpFor, (limit: TaskLimit) => string> = {
  time: ({ cpuSeconds }) =>
    `It was given up: it takes more than ${cpuSeconds} seconds of computing. Make it smaller or simpler, and try again.`,
  memory: ({ memoryBytes }) =>
    `It was given up: it takes more than ${Math.round(memoryBytes / MIB).toLocaleString('en')} MiB of memory. Make it smaller or simpler, and try again.`,
  crash: () =>
    'It was given up: it has twice ended the program that worked on it. Save it anew with another program, and try again.',
}
