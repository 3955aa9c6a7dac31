/**
 * What a worker answers: of each question, what it takes and what it gives. What it says unasked are events of its own.
 * @example type Questions = { outline(wish: { plan: Plan }): string }
 */
export type Questions = { [question: string]: (wish: never) => unknown }
type Wish<Asked extends Questions, Question extends keyof Asked> = Parameters<Asked[Question]>[0]
type Answer<Asked extends Questions, Question extends keyof Asked> = Awaited<ReturnType<Asked[Question]>>

/** One envelope for all that goes to a worker, and one for all that comes back. */
type AskMessage = { id: number; question: string; wish: unknown }
type AnswerMessage = { id: number; value: unknown } | { id: number; problem: string } | { told: unknown }

/** What both ends of a port need of a worker, of its own side, and of the two ends of a channel. */
export type End = {
  postMessage(message: unknown, options?: { transfer?: Transferable[] }): void
  addEventListener(type: 'message', take: (event: MessageEvent) => void): void
}
/** A worker as its page sees it. */
export type WorkerEnd = Omit<End, 'addEventListener'> & {
  addEventListener(type: 'message' | 'error' | 'messageerror', take: (event: MessageEvent) => void): void
  terminate(): void
}

/** An answer whose buffers are given away instead of being copied. */
class Moved<Value> {
  constructor(
    readonly value: Value,
    readonly buffers: Transferable[],
  ) {}
}
/** Gives buffers of an answer away: the worker has them no more. Each is given once, however often it is named. */
export const moved = <Value>(value: Value, buffers: Transferable[]): Moved<Value> =>
  new Moved(value, [...new Set(buffers)])

type Given<Value> = Value | Moved<Value>
export type Answers<Asked extends Questions> = {
  [Question in keyof Asked]: (
    wish: Wish<Asked, Question>,
  ) => Given<Answer<Asked, Question>> | Promise<Given<Answer<Asked, Question>>>
}

const sentenceOf = (error: unknown) => (error instanceof Error ? error.message : String(error))

/**
 * The worker's side: questions are answered one after another in the order they came, and what goes wrong in one is its
 * answer.
 * @param latest Questions of which only the newest is wanted: one that another follows before its turn is answered with
 *   nothing.
 * @returns Tells the page something unasked.
 */
export function answerAll<Asked extends Questions, Told = never>(
  end: End,
  answers: Answers<Asked>,
  { latest = [] }: { latest?: readonly (keyof Asked & string)[] } = {},
): (told: Told, buffers?: Transferable[]) => void {
  const post = (message: AnswerMessage, transfer: Transferable[] = []) => end.postMessage(message, { transfer })
  const waiting: AskMessage[] = []
  let isAnswering = false

  async function answerWaiting(): Promise<void> {
    if (isAnswering) return
    isAnswering = true
    for (let ask = waiting.shift(); ask; ask = waiting.shift()) {
      const { id, question, wish } = ask
      try {
        if (latest.includes(question)) {
          await nextTurn() // what was posted meanwhile is heard first
          if (waiting.some((later) => later.question === question)) {
            post({ id, value: undefined })
            continue
          }
        }
        const given = answers[question]?.(wish as never)
        // what is there already is not waited for: a stroke is shown in the turn in which the pen moves
        const answer = given instanceof Promise ? await given : given
        if (answer instanceof Moved) post({ id, value: answer.value }, answer.buffers)
        else post({ id, value: answer })
      } catch (error) {
        post({ id, problem: sentenceOf(error) })
      }
    }
    isAnswering = false
  }

  end.addEventListener('message', ({ data }: MessageEvent<AskMessage>) => {
    waiting.push(data)
    void answerWaiting()
  })
  return (told, buffers) => post({ told }, buffers)
}

const nextTurn = () => new Promise((go) => setTimeout(go))

type Waiting = { done(value: unknown): void; fail(problem: Error): void }

/** The page's side of a worker. */
export class Port<Asked extends Questions, Told = never> {
  readonly #worker: WorkerEnd
  readonly #waiting = new Map<number, Waiting>()
  #asked = 0
  #hasAnswered = false
  #broken: Error | undefined

  /** @param onTold Hears what the worker says unasked. */
  constructor(worker: WorkerEnd, onTold?: (told: Told) => void) {
    this.#worker = worker
    worker.addEventListener('message', ({ data }: MessageEvent<AnswerMessage>) => {
      this.#hasAnswered = true
      if ('told' in data) return onTold?.(data.told as Told)
      const waiting = this.#waiting.get(data.id)
      this.#waiting.delete(data.id)
      if ('problem' in data) waiting?.fail(new Error(data.problem))
      else waiting?.done(data.value)
    })
    worker.addEventListener('error', () => this.#fail())
    worker.addEventListener('messageerror', () => this.#fail())
  }

  /**
   * Asks one question.
   * @param buffers What of the wish is given away instead of being copied.
   * @throws {Error} With the worker's sentence; or where it failed outside of any question. After `close` there is no answer any more.
   */
  ask<Question extends keyof Asked & string>(
    question: Question,
    wish: Wish<Asked, Question>,
    buffers: Transferable[] = [],
  ): Promise<Answer<Asked, Question>> {
    if (this.#broken) return Promise.reject(this.#broken)
    const id = ++this.#asked
    return new Promise((done, fail) => {
      this.#waiting.set(id, { done: done as Waiting['done'], fail })
      this.#worker.postMessage({ id, question, wish } satisfies AskMessage, { transfer: buffers })
    })
  }

  close(): void {
    this.#waiting.clear()
    this.#worker.terminate()
  }

  /** Nobody is left waiting. A worker that never answered did not even begin, and will not. */
  #fail(): void {
    const problem = new Error('What computes this in the background failed; reload the page.')
    for (const { fail } of this.#waiting.values()) fail(problem)
    this.#waiting.clear()
    if (!this.#hasAnswered) this.#broken = problem
  }
}
