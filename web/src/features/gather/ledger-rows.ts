import type { LedgerFolder } from '../../data/gather.ts'

/** A row of the list: the head of a folder, or a line by its place in the whole ledger. */
export type LedgerRow = { head: LedgerFolder } | { line: number }

/** Where each folder begins, in rows and in lines: a head, then its lines. */
export class LedgerRows {
  readonly #folders: readonly LedgerFolder[]
  readonly #firstRows: number[] = []
  readonly #firstLines: number[] = []
  readonly count: number

  constructor(folders: readonly LedgerFolder[]) {
    this.#folders = folders
    let [row, line] = [0, 0]
    for (const { lines } of folders) {
      this.#firstRows.push(row)
      this.#firstLines.push(line)
      row += 1 + lines
      line += lines
    }
    this.count = row
  }

  at(row: number): LedgerRow | undefined {
    if (row < 0 || row >= this.count) return undefined
    const folder = this.#folderOf(row)
    const head = this.#folders[folder]
    const below = row - (this.#firstRows[folder] ?? 0)
    if (!head) return undefined
    return below === 0 ? { head } : { line: (this.#firstLines[folder] ?? 0) + below - 1 }
  }

  /** The last folder that begins at or before a row, by halving. */
  #folderOf(row: number): number {
    let [low, high] = [0, this.#firstRows.length - 1]
    while (low < high) {
      const middle = Math.ceil((low + high) / 2)
      if ((this.#firstRows[middle] ?? 0) <= row) low = middle
      else high = middle - 1
    }
    return low
  }
}
