import { type ChildProcess, fork } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { setPriority } from 'node:os'
import type { FromHand, ToHand } from './wire.ts'

/** Ticks of the kernel's clock in a second, as `/proc` counts computing; the same on every Linux of today (proc(5), sysconf). */
const TICKS_PER_SECOND = 100
const PAGE_BYTES = 4096

/** One process that does one task after another, and can be ended at any moment. */
export class Hand {
  readonly #child: ChildProcess
  #isGone = false

  /**
   * @param filename The built file of what it runs. @param options.niceness How far it gives way to other processes, 0 to 19.
   * @param options.onMessage Told what it says. @param options.onGone Told once, when it has ended, whatever the reason.
   */
  constructor(
    filename: string,
    {
      niceness,
      heapMb,
      onMessage,
      onGone,
    }: { niceness: number; heapMb: number; onMessage: (message: FromHand) => void; onGone: () => void },
  ) {
    this.#child = fork(filename, [], {
      serialization: 'advanced',
      execArgv: [`--max-old-space-size=${heapMb}`, '--disable-warning=ExperimentalWarning'],
      // what reads strangers' bytes knows neither the database's address nor any secret
      env: { PATH: process.env.PATH, TZ: process.env.TZ, LANG: process.env.LANG, UV_THREADPOOL_SIZE: '2' },
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    })
    const gone = () => {
      if (this.#isGone) return
      this.#isGone = true
      onGone()
    }
    this.#child.on('message', onMessage as (message: unknown) => void)
    this.#child.once('exit', gone)
    // it could not be started, or not be told: either way it is of no use any more
    this.#child.on('error', () => {
      this.end()
      gone()
    })
    if (niceness > 0 && this.#child.pid !== undefined) {
      try {
        setPriority(this.#child.pid, niceness)
      } catch {
        // it ended at once, or the system does not let us: then it runs like any other
      }
    }
  }

  send(message: ToHand): void {
    // what cannot be sent to a process that is ending is told by its end
    this.#child.send(message, () => undefined)
  }

  /** Ends it at once, whatever it does. */
  end(): void {
    this.#child.kill('SIGKILL')
  }

  /** What it has taken by now; undefined where that cannot be told. */
  measure(): { cpuSeconds: number; memoryBytes: number } | undefined {
    try {
      const stat = readFileSync(`/proc/${this.#child.pid}/stat`, 'latin1')
      // the name of the program stands in brackets and may hold anything: what counts comes after the last one (proc(5))
      const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ')
      const [user, system, pages] = [Number(fields[11]), Number(fields[12]), Number(fields[21])]
      return { cpuSeconds: (user + system) / TICKS_PER_SECOND, memoryBytes: pages * PAGE_BYTES }
    } catch {
      return undefined
    }
  }
}
