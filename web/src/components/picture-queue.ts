/** A picture that takes longer than this keeps the others waiting no more. */
const LONGEST_MS = 5000

type Turn = { begin: () => void; state: 'waits' | 'runs' | 'over'; timer?: ReturnType<typeof setTimeout> }

/** Lets some begin at once and the others after them, in the order in which they came. */
export class PictureQueue {
  private readonly turns: Turn[] = []
  private running = 0

  constructor(private readonly most: number) {}

  /** @param begin Is called when its turn comes, maybe at once. @returns Ends its turn, or takes it out of the queue. */
  enter(begin: () => void): () => void {
    const turn: Turn = { begin, state: 'waits' }
    this.turns.push(turn)
    this.next()
    return () => this.end(turn)
  }

  private next(): void {
    while (this.running < this.most) {
      const turn = this.turns.shift()
      if (!turn) return
      if (turn.state === 'over') continue
      turn.state = 'runs'
      turn.timer = setTimeout(() => this.end(turn), LONGEST_MS)
      this.running++
      turn.begin()
    }
  }

  private end(turn: Turn): void {
    if (turn.state === 'runs') this.running--
    clearTimeout(turn.timer)
    turn.state = 'over'
    this.next()
  }
}
