import { toMarkup } from '../formats/text.ts'
import { helpHtml, writtenHtml } from './help-page.ts'

/** What a pack says to those who get it. */
export type HelpDocument = { title: string; help: string; notes: readonly { name: string; note: string }[] }

/** Kept in the page itself: it is read from a folder, and fetches nothing. */
const LOOK =
  'body{font:16px/1.5 sans-serif;margin:2rem auto;max-width:42rem;padding:0 1rem;color:#1e2d2b}h1,h2{line-height:1.2}dt{font-weight:bold}dd{margin:0 0 .75rem}pre{white-space:pre-wrap}dd p{margin:0}'

/** Nothing of it can run or fetch, whatever its reader's browser makes of it. */
const NOTHING_RUNS = `<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">`

/**
 * A pack's help and the notes on its brushes as one HTML page that stands by itself.
 * @param options.asWritten Whether its texts are left as they were written, which takes no time whatever they are.
 */
export function helpDocument({ title, help, notes }: HelpDocument, { asWritten = false } = {}): string {
  const toHtml = asWritten ? writtenHtml : helpHtml
  const lines = notes.map(({ name, note }) => `<dt>${toMarkup(name)}</dt><dd>${toHtml(note)}</dd>`)
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8">${NOTHING_RUNS}<title>${toMarkup(title)}</title><style>${LOOK}</style></head>
<body><h1>${toMarkup(title)}</h1>
${toHtml(help)}
${lines.length > 0 ? `<h2>Notes on brushes</h2>\n<dl>${lines.join('\n')}</dl>\n` : ''}</body></html>
`
}
