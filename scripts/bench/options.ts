/** What a run of the benchmarks is given. */
export type BenchOptions = {
  root: string
  /** A folder to work in. */
  folder: string
  databaseUrl: string
  /** The script of the page that measures strokes, and the compiled blit that it compares them with. */
  strokesPage: string
  blit: string
  /** The script that reads one file and tells how much memory it took. */
  readOne: string
  /** The script that downloads from many links at once. */
  downloadAll: string
}
