import { toMarkup } from '../formats/text.ts'
import { byPath } from '../names.ts'

/** Folders that are drawn one by one. */
const SHOWN = 9
const ROW_PX = 30
const WIDTH_PX = 640
const INDENT_PX = 22

type Row = { depth: number; name: string; files: number }

/**
 * A picture of what goes where: the folders of the files on the left, and the app's own folder that takes them on the
 * right, as SVG.
 * @param app The app's name. @param paths Those of the files, from the app's folder down.
 */
export function drawFolders(app: string, paths: readonly string[]): string {
  const all = rowsOf(paths)
  const rows = all.slice(0, SHOWN)
  const rest = all.length - rows.length
  const height = 74 + ROW_PX * (rows.length + (rest > 0 ? 1 : 0))
  const tree = (left: number) =>
    [
      ...rows.map(({ depth, name, files }, i) => {
        const y = 62 + ROW_PX * i
        const x = left + INDENT_PX * depth
        const count = files > 0 ? `<tspan fill="#667"> (${files})</tspan>` : ''
        return `${folderAt(x, y)}<text x="${x + 28}" y="${y + 15}">${toMarkup(shorten(name, 26 - 2 * depth))}${count}</text>`
      }),
      ...(rest > 0
        ? [`<text x="${left + 28}" y="${62 + ROW_PX * rows.length + 15}" fill="#667">and ${rest} more</text>`]
        : []),
    ].join('')
  const box = (x: number, width: number, title: string) =>
    `<rect x="${x}" y="8" width="${width}" height="${height - 16}" rx="8" fill="#fff" stroke="#99a" stroke-width="1.5"/>` +
    `<text x="${x + 14}" y="36" font-weight="bold">${toMarkup(shorten(title, 30))}</text>`
  const middle = height / 2
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH_PX} ${height}" width="${WIDTH_PX}" height="${height}" font-family="sans-serif" font-size="14" fill="#223">` +
    `<rect width="${WIDTH_PX}" height="${height}" fill="#f4f5f7"/>` +
    box(8, 270, 'These files') +
    tree(22) +
    `<path d="M290 ${middle}h46m-12 -10l12 10l-12 10" fill="none" stroke="#223" stroke-width="2.5"/>` +
    box(352, 280, `The brush folder of ${app}`) +
    tree(366) +
    `</svg>`
  )
}

const folderAt = (x: number, y: number) =>
  `<path d="M${x} ${y + 4}v13a2 2 0 0 0 2 2h16a2 2 0 0 0 2 -2v-11a2 2 0 0 0 -2 -2h-8l-3 -3h-5a2 2 0 0 0 -2 2z" fill="#d9c08a" stroke="#8a6d2f"/>`

/** Folders as they lie in one another, each with how many files it holds itself. */
function rowsOf(paths: readonly string[]): Row[] {
  const files = new Map<string, number>()
  for (const path of paths) {
    const parts = path.split('/').slice(0, -1)
    for (let depth = 0; depth <= parts.length; depth++) {
      const folder = parts.slice(0, depth).join('/')
      files.set(folder, (files.get(folder) ?? 0) + (depth === parts.length ? 1 : 0))
    }
  }
  const loose = files.get('') ?? 0
  files.delete('')
  const folders = [...files].sort(([a], [b]) => byPath(a, b))
  return [
    ...folders.map(([folder, count]) => {
      const parts = folder.split('/')
      return { depth: parts.length - 1, name: parts[parts.length - 1] ?? '', files: count }
    }),
    ...(loose > 0 ? [{ depth: 0, name: 'files in no folder', files: loose }] : []),
  ]
}

const shorten = (name: string, most: number) =>
  [...name].length > most ? `${[...name].slice(0, most - 1).join('')}…` : name
