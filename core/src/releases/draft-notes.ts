import type { ChangedBrush, Difference } from './difference.ts'

/** So many are named; the others are counted. */
const NAMED_MAX = 8

/**
 * What is new, in plain words: a draft for whoever writes it. One sentence a kind of difference, the most notable first;
 * empty where nothing differs.
 */
export function draftNotes({ facts, brushes, sets, pockets, materials }: Difference): string {
  const sentences = [
    told('New', brushes.new.map(quoted)),
    told('New sets', sets.new.map(inQuotes)),
    told('Gone', brushes.gone.map(quoted)),
    told('Sets that are gone', sets.gone.map(inQuotes)),
    told(
      'Renamed',
      brushes.renamed.map(({ from, name }) => `"${from}" is "${name}" now`),
    ),
    told('Changed', brushes.changed.map(changeWords)),
    told(
      'Moved',
      brushes.moved.map(({ name, from, to }) => `"${name}" from ${from} to ${to}`),
    ),
    sets.reordered ? 'The sets follow one another in another order.' : '',
    told(
      'About the pack',
      facts.map(({ label, from, to }) => factWords(label, from, to)),
    ),
    told(
      'Grains and strips',
      materials.map(({ from, to }) => `"${from}" is "${to}" now`),
    ),
    told(
      'Pockets',
      pockets.map(({ label }) => `${label.toLowerCase().replace(/^pocket /, '')} is another`),
    ),
  ]
  return sentences.filter((sentence) => sentence !== '').join('\n')
}

const inQuotes = (name: string) => `"${name}"`
const quoted = ({ name }: { name: string }) => inQuotes(name)

function told(what: string, items: readonly string[]): string {
  if (items.length === 0) return ''
  const more = items.length - NAMED_MAX
  return `${what}: ${items.slice(0, NAMED_MAX).join(', ')}${more > 0 ? ` and ${more} more` : ''}.`
}

/** Longer texts are told to differ, not repeated. */
const SAID_MAX_CHARS = 60
function factWords(label: string, from: string, to: string): string {
  const isShort = from.length <= SAID_MAX_CHARS && to.length <= SAID_MAX_CHARS && !/\n/.test(from + to)
  return isShort ? `${label.toLowerCase()} was ${from}, is ${to}` : `another ${label.toLowerCase()}`
}

/** A changed brush with what of it changed. */
function changeWords({ name, facts, parts, pictures }: ChangedBrush): string {
  const labels = [...pictures, ...parts, ...facts].map(({ label }) => label.toLowerCase())
  return `"${name}" (${[...new Set(labels)].join(', ')})`
}
