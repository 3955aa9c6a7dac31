import { writeFileSync } from 'node:fs'
import { cpus } from 'node:os'
import { join } from 'node:path'
import { brushFileRows } from './brush-files.ts'
import { findingRows } from './finding.ts'
import { fitRows } from './fit.ts'
import { handOutRows } from './hand-out.ts'
import { libraryRows } from './library.ts'
import { librarySizeRows } from './library-at-size.ts'
import { makeRows } from './make.ts'
import type { BenchOptions } from './options.ts'
import { packRows } from './pack-at-size.ts'
import { peopleRows } from './people-at-size.ts'
import { pngRows } from './png.ts'
import { readerRows } from './reader-memory.ts'
import type { Row } from './rows.ts'
import { sameMarkRows } from './same-marks.ts'
import { smallFileRows } from './small-files.ts'
import { strokeRows } from './strokes.ts'
import { studioRows } from './studio.ts'
import { loadRows } from './under-load.ts'
import { threadRows } from './worker-threads.ts'
import { zipRows } from './zip.ts'

/** Runs everything but what takes a quarter of an hour, and writes the table. `only` measures the steps whose names hold it, and writes nothing. */
export async function runBenchmarks(options: BenchOptions, only?: string): Promise<void> {
  const rows: Row[] = []
  const steps: [name: string, step: () => Promise<Row[]>, isLong?: true][] = [
    ['PNG', pngRows],
    ['GBR and GIH', brushFileRows],
    ['steps of making', makeRows],
    ['what arrives', () => fitRows(options.folder)],
    ['strokes in Chromium', () => strokeRows(options)],
    ['library of 10,000', () => libraryRows(options)],
    ['finding in Chromium', () => findingRows(options)],
    ['hand-out of 300 MB', () => handOutRows(options.folder)],
    ['zip of 300 MB', () => zipRows(options.folder)],
    ['many small files', () => smallFileRows(options)],
    ['worker threads', () => threadRows(options)],
    ['a server under load', () => loadRows(options)],
    ['a pack of 1,000', () => packRows(options)],
    ['what people fetch', () => peopleRows(options)],
    ['same marks of 100,000', () => sameMarkRows(options), true],
    ['a studio on two servers', () => studioRows(options), true],
    ['a library of 4 GiB', () => librarySizeRows(options), true],
    ["readers' memory", async () => readerRows(options)],
  ]
  for (const [name, step, isLong] of steps) {
    if (only === undefined ? isLong : !name.includes(only)) continue
    console.log(`measuring ${name} ...`)
    const found = await step()
    for (const row of found)
      console.log(
        `  ${row.met ? 'met' : 'NOT MET'}  ${row.ratio.toFixed(2)} (wanted ${row.wanted})  ${row.what}: ${row.ours} against ${row.reference}`,
      )
    rows.push(...found)
  }
  if (only === undefined) writeFileSync(join(options.root, 'docs/benchmarks.md'), toMarkdown(rows))
}

function toMarkdown(rows: Row[]): string {
  const lines = rows.map(
    ({ what, ours, reference, ratio, wanted, met }) =>
      `| ${what} | ${ours} | ${reference} | ${ratio.toFixed(2)} | ${wanted.replace('≤ Infinity', 'none')} | ${met ? 'yes' : '**no**'} |`,
  )
  return `# Benchmarks

Written by \`npm run bench\`. Only the ratios hold: each is the median of interleaved rounds of both sides in one run, on a
machine of ${cpus().length} cores with Node ${process.versions.node}.

| what | ours | reference | ratio | wanted | met |
| --- | --- | --- | --- | --- | --- |
${lines.join('\n')}
`
}
