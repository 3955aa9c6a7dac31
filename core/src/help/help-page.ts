import type { Nodes as Hast, Root } from 'hast'
import { type Schema, sanitize } from 'hast-util-sanitize'
import { toHtml } from 'hast-util-to-html'
import { fromMarkdown } from 'mdast-util-from-markdown'
import { toHast } from 'mdast-util-to-hast'
import { toMarkup } from '../formats/text.ts'

/** What a help text may be laid out with. Pictures are not among them: nothing is fetched to read a page. */
export const HELP_TAGS = [
  ...(['h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'p', 'ul', 'ol', 'li', 'blockquote', 'pre', 'hr', 'br'] as const),
  ...(['em', 'strong', 'code', 'a'] as const),
]
export type HelpTag = (typeof HELP_TAGS)[number]

/** A laid out help text: words, and what holds them. Plain data, so that it goes wherever it is shown. */
export type HelpNode = string | { tag: HelpTag; href?: string; start?: number; children: HelpNode[] }

/** Lists in lists and quotes in quotes, so deep at most; beyond it no page shows them, and what walks them would fail. */
const DEPTH_MAX = 60

/** Where a link may lead: nothing that runs, nothing of the reader's own machine, nothing relative to where the page lies. */
const PROTOCOLS = ['http', 'https', 'mailto']

const SCHEMA: Schema = {
  tagNames: [...HELP_TAGS],
  attributes: { a: ['href'], ol: ['start'] },
  protocols: { href: PROTOCOLS },
  // their words would be left as text
  strip: ['script', 'style'],
  ancestors: { li: ['ol', 'ul'] },
  required: {},
  clobber: [],
}

/**
 * A Markdown text as the tree of the elements that are allowed, all else left out: HTML in it, pictures (their words stay),
 * links that lead nowhere safe (their words stay).
 * @throws {RangeError} Where it is nested too deeply to be laid out.
 * Source: CommonMark 0.31, https://spec.commonmark.org.
 */
function toSafe(markdown: string): Root {
  const tree = toHast(fromMarkdown(markdown), { allowDangerousHtml: false })
  const safe = sanitize(withWords(tree), SCHEMA)
  return safe.type === 'root' ? safe : { type: 'root', children: [safe as Root['children'][number]] }
}

/** Pictures become the words that stand for them, and links that lead elsewhere than allowed their own words. */
function withWords(node: Hast, depth = 0): Hast {
  if (depth > DEPTH_MAX) throw new RangeError('nested too deeply')
  if (node.type === 'element' && node.tagName === 'img')
    return { type: 'text', value: String(node.properties.alt ?? '') }
  if (!('children' in node)) return node
  const children = node.children.flatMap((child) => {
    const made = withWords(child, depth + 1) as typeof child
    return made.type === 'element' && made.tagName === 'a' && !leadsOut(made.properties.href) ? made.children : [made]
  })
  return { ...node, children } as Hast
}

/** Whether an address names a protocol that is allowed. A relative one leads nowhere from a page that is handed out. */
function leadsOut(href: unknown): boolean {
  if (typeof href !== 'string') return false
  const colon = href.indexOf(':')
  return colon > 0 && PROTOCOLS.includes(href.slice(0, colon).toLowerCase())
}

const isTag = (name: string): name is HelpTag => (HELP_TAGS as readonly string[]).includes(name)

function toNodes(node: Hast): HelpNode[] {
  if (node.type === 'text') return [node.value]
  if (node.type === 'root') return node.children.flatMap(toNodes)
  if (node.type !== 'element' || !isTag(node.tagName)) return []
  const { href, start } = node.properties
  return [
    {
      tag: node.tagName,
      ...(typeof href === 'string' ? { href } : {}),
      ...(typeof start === 'number' ? { start } : {}),
      children: node.children.flatMap(toNodes),
    },
  ]
}

/** A text line by line as it was written, where it cannot be laid out. */
export const asWritten = (text: string): HelpNode[] => [{ tag: 'pre', children: [text] }]

/** The same in HTML. */
export const writtenHtml = (text: string): string => `<pre>${text.split('\n').map(toMarkup).join('\n')}</pre>`

/** What is made of a text, or of the text as it was written where it is nested too deeply for anything else. */
function orAsWritten<Made>(make: () => Made, plain: () => Made): Made {
  try {
    return make()
  } catch (error) {
    // the library that reads it recurses too, and runs out of stack with the same kind of error
    if (error instanceof RangeError) return plain()
    throw error
  }
}

/** A Markdown text laid out, for a page that shows it; as it was written where it is nested too deeply. */
export const layOutHelp = (markdown: string): HelpNode[] =>
  orAsWritten(
    () => toNodes(toSafe(markdown)),
    () => asWritten(markdown),
  )

/** A Markdown text as HTML that nothing in it can make run: the very elements of `layOutHelp`. */
export const helpHtml = (markdown: string): string =>
  orAsWritten(
    () => toHtml(toSafe(markdown)),
    () => writtenHtml(markdown),
  )

/** The words of what is laid out, without its elements. */
export const wordsOf = (nodes: readonly HelpNode[]): string =>
  nodes.map((node) => (typeof node === 'string' ? node : wordsOf(node.children))).join('')
