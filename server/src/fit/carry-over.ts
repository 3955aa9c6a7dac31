import type { Destination } from '@satchel/core/destinations/destination'
import { drawFolders } from '@satchel/core/destinations/folder-drawing'
import { toMarkup, toUtf8 } from '@satchel/core/formats/text'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import { nodeCrc32 } from '@satchel/node/hash'
import { type InstallBrush, listInstallBrushes } from '../db/install-brushes.ts'
import { type Install, listInstallFiles } from '../db/installs.ts'
import type { Deps } from '../deps.ts'
import { findAnyDestination } from './destinations.ts'

/** What became of each brush, for whoever gets the files. */
export type CarryOver = {
  app: string
  appVersion: string
  afterCopying: readonly string[]
  brushes: {
    name: string
    likeness: number
    kept: string[]
    approximated: string[]
    left: string[]
    files: string[]
  }[]
  refused: Install['refused']
}

/** The files of an install in their folders, with a page that says what arrives of each brush and what to press. */
export async function zipInstall(deps: Deps, install: Install): Promise<AsyncGenerator<Uint8Array>> {
  const { workspaceId, id, destinationId } = install
  const destination = await findAnyDestination(deps.db, workspaceId, destinationId)
  const files = await listInstallFiles(deps.db, workspaceId, id)
  const carryOver = await describe(deps, install, destination, files)
  return (async function* () {
    // stored: packing on this thread would stop other requests
    const zip = new ZipWriter({ crc32: nodeCrc32 })
    const pages = carryOverPages(
      install.name,
      carryOver,
      files.map(({ path }) => path),
    )
    for (const { path, bytes } of pages) yield* zip.add(path, bytes, 'store')
    for (const { path, blobSha } of files) {
      const bytes = await deps.blobs.read(workspaceId, blobSha)
      yield* zip.add(path, bytes, 'store')
    }
    yield* zip.finish()
  })()
}

async function describe(
  { db }: Deps,
  install: Install,
  destination: Destination | undefined,
  files: readonly { brushId: string; path: string }[],
): Promise<CarryOver> {
  return describeCarryOver(destination, {
    carried: await listInstallBrushes(db, install),
    files,
    refused: install.refused,
  })
}

/** What is told of brushes that were written for a destination. */
export function describeCarryOver(
  destination: Destination | undefined,
  {
    carried,
    files,
    refused,
  }: {
    carried: readonly InstallBrush[]
    files: readonly { brushId: string; path: string }[]
    refused: Install['refused']
  },
): CarryOver {
  const words = (items: readonly { called: string; how?: string | undefined }[]) =>
    items.map(({ called, how }) => (how ? `${called}: ${how}` : called))
  const pathsOf = new Map<string, string[]>()
  for (const { brushId, path } of files) {
    const known = pathsOf.get(brushId)
    if (known) known.push(path)
    else pathsOf.set(brushId, [path])
  }
  return {
    app: destination?.name ?? '',
    appVersion: destination?.appVersion ?? '',
    afterCopying: destination?.afterCopying ?? [],
    brushes: carried.map(({ brushId, name, score, kept, approximated, left }) => ({
      name,
      likeness: Math.round(score * 10) / 10,
      kept: words(kept),
      approximated: words(approximated),
      left: words(left),
      files: pathsOf.get(brushId) ?? [],
    })),
    refused,
  }
}

/** What became of brushes and what to press, as a page to read and as JSON. */
export const carryOverPages = (name: string, carryOver: CarryOver, paths: readonly string[]) => [
  { path: 'carry-over.html', bytes: toUtf8(toHtml(name, carryOver, paths)) },
  { path: 'carry-over.json', bytes: toUtf8(`${JSON.stringify(carryOver, null, 2)}\n`) },
]

const list = (items: readonly string[]) => items.map((item) => `<li>${toMarkup(item)}</li>`).join('')

function toHtml(name: string, carryOver: CarryOver, paths: readonly string[]): string {
  const { app, appVersion, afterCopying, brushes, refused } = carryOver
  const rows = brushes
    .filter(({ files }) => files.length > 0)
    .map(
      (brush) => `<tr><th scope="row">${toMarkup(brush.name)}</th><td>${brush.likeness}</td>
<td><ul>${list(brush.kept)}</ul></td><td><ul>${list(brush.approximated)}</ul></td><td><ul>${list(brush.left)}</ul></td></tr>`,
    )
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${toMarkup(name)} for ${toMarkup(app)}</title>
<style>body{font:16px/1.5 sans-serif;margin:2rem auto;max-width:70rem;padding:0 1rem}table{border-collapse:collapse;width:100%}th,td{border-bottom:1px solid #ccc;padding:.4rem;text-align:left;vertical-align:top}ul{margin:0;padding-left:1rem}</style></head>
<body><h1>${toMarkup(name)} for ${toMarkup(app)} ${toMarkup(appVersion)}</h1>
<h2>What to do</h2><ol><li>Copy the folders of this archive into the brush folder of ${toMarkup(app)}.</li>${list(afterCopying)}</ol>
${drawFolders(app, paths)}
<h2>What arrives</h2><table><thead><tr><th scope="col">Brush</th><th scope="col">Likeness</th><th scope="col">Kept</th><th scope="col">Approximated</th><th scope="col">Left behind</th></tr></thead><tbody>
${rows.join('\n')}
</tbody></table>
${refused.length > 0 ? `<h2>Not written</h2><ul>${list(refused.map((each) => `${each.name}: ${each.why}`))}</ul>` : ''}
</body></html>
`
}
