import * as v from 'valibot'
import { FormatError } from '../errors.ts'
import { type Around, STEP_KINDS, STEP_NAMES, type Step, type StepName, type Steps } from './step-kinds.ts'
import { dropUnkept, type Work } from './work.ts'

const stepSchema = (name: StepName) =>
  v.strictObject({ kind: v.literal(name), on: v.boolean(), settings: STEP_KINDS[name].schema as v.GenericSchema })

/** A source's steps as they are stored: each kind once, those with a place of their own in it. */
export const StepsSchema = v.pipe(
  v.array(v.variant('kind', STEP_NAMES.map(stepSchema) as [ReturnType<typeof stepSchema>])),
  v.length(STEP_NAMES.length, 'each kind of step is wanted once'),
  v.check((steps) => isInOrder(steps.map(({ kind }) => kind)), 'a step is missing or stands where it cannot'),
  v.check((steps) => steps.every(({ kind, on }) => on || STEP_KINDS[kind].mayBeOff), 'a step cannot be left out'),
)

/** @throws {FormatError} If they are not steps as they are stored. */
export function parseSteps(data: unknown): Step[] {
  const result = v.safeParse(StepsSchema, data)
  if (result.success) return result.output as Step[]
  const [issue] = result.issues
  throw new FormatError('list of steps', undefined, `${v.getDotPath(issue) ?? 'steps'}: ${issue.message}`)
}

/** Steps as they are where nothing is known of the picture. */
export const usualSteps = (): Step[] =>
  STEP_NAMES.map((kind) => ({ kind, on: true, settings: structuredCloned(STEP_KINDS[kind].usual) }) as Step)

/**
 * Steps as an earlier release has stored them, with what has come since: a step that was not there is left out where it may
 * be, and a setting that was not there is as usual. What is no list of steps stays what it is.
 */
export function completeSteps(stored: unknown): unknown {
  if (!Array.isArray(stored)) return stored
  const usual = usualSteps()
  const steps: StoredStep[] = stored.filter((step) => usual.some(({ kind }) => kind === step?.kind))
  for (const [i, step] of usual.entries()) {
    if (steps.some(({ kind }) => kind === step.kind)) continue
    const before = STEP_NAMES.slice(0, i)
    const at = steps.findLastIndex(({ kind }) => before.includes(kind))
    steps.splice(at + 1, 0, { ...step, on: !STEP_KINDS[step.kind].mayBeOff })
  }
  return steps.map((step) => ({ ...step, settings: { ...usualOf(step.kind), ...step.settings } }))
}
type StoredStep = { kind: StepName; on: unknown; settings: object }

const usualOf = (kind: StepName) => structuredCloned(STEP_KINDS[kind].usual)

const structuredCloned = <Value>(value: Value): Value => JSON.parse(JSON.stringify(value))

/** Whether every kind is there once, and those that do not move stand where they usually do. */
export function isInOrder(kinds: readonly StepName[]): boolean {
  return (
    new Set(kinds).size === STEP_NAMES.length &&
    STEP_NAMES.every((name, i) => STEP_KINDS[name].moves || kinds[i] === name)
  )
}

/** The same steps with one moved to another place; as they were where it cannot stand. */
export function moveStep(steps: Steps, from: number, to: number): Steps {
  const moved = [...steps]
  const [step] = moved.splice(from, 1)
  if (!step) return steps
  moved.splice(to, 0, step)
  return isInOrder(moved.map(({ kind }) => kind)) ? moved : steps
}

/**
 * Runs steps in order over a picture: gives what each made, before the next one begins.
 */
export function* runSteps(start: Work, steps: Steps): Generator<{ step: Step; work: Work }, Work> {
  let work = start
  let grey: Work | undefined
  const needsColour = hasOwnColour(steps)
  for (const step of steps) {
    work = runStep(work, step, { grey, needsColour })
    if (step.kind === 'grey') grey = work
    yield { step, work }
  }
  return work
}

/** Whether a tip of these steps has colours of its own; steps without a reading give none up. */
const hasOwnColour = (steps: Steps): boolean => {
  const step = steps.find((each): each is Extract<Step, { kind: 'reading' }> => each.kind === 'reading')
  return !step || step.settings.reading === 'own' || step.settings.reading === 'tone'
}

function runStep(before: Work, step: Step, around: Around): Work {
  const work = STEP_KINDS[step.kind].seesAll ? before : dropUnkept(before)
  if (!step.on) return work
  // each row's settings and function belong together; the compiler cannot follow that through the table
  const { run } = STEP_KINDS[step.kind] as {
    run(work: Work, settings: unknown, around: Around): Work
  }
  return run(work, step.settings, around)
}

/** Runs steps and keeps what each gave: when they change, only those from the first that differs run again. */
export class StepRunner {
  readonly #start: Work
  #kept: { key: string; work: Work }[] = []

  constructor(start: Work) {
    this.#start = start
  }

  /** What each step gives, in order. @returns How many of them had to be run, too. */
  run(steps: Steps): { works: Work[]; ran: number } {
    const needsColour = hasOwnColour(steps)
    // what a step keeps of the colours follows from the reading behind it
    const keys = steps.map((step) => (step.on ? `${needsColour} ${JSON.stringify(step)}` : `${step.kind} off`))
    let same = 0
    while (same < keys.length && this.#kept[same]?.key === keys[same]) same++
    this.#kept.length = same
    let grey = this.#kept[steps.findIndex(({ kind }) => kind === 'grey')]?.work
    for (let i = same; i < steps.length; i++) {
      const work = runStep(this.#kept[i - 1]?.work ?? this.#start, steps[i], { grey, needsColour })
      if (steps[i].kind === 'grey') grey = work
      this.#kept.push({ key: keys[i], work })
    }
    return { works: this.#kept.map(({ work }) => work), ran: steps.length - same }
  }
}
