import type { HelpNode, HelpTag } from '@satchel/core/help/help-page'
import type { ReactNode } from 'react'

/** How each element looks that a help text may hold. Headings are those of the text: their rank depends on the page. */
const LOOKS: Record<HelpTag, string> = {
  h1: 'font-title text-20 pt-1',
  h2: 'font-title text-17 pt-1',
  h3: 'font-medium pt-1',
  h4: 'font-medium',
  h5: 'font-medium text-quiet',
  h6: 'font-medium text-quiet',
  p: '',
  ul: 'list-disc pl-5',
  ol: 'list-decimal pl-5',
  li: '',
  blockquote: 'border-l-2 border-line pl-3 text-quiet',
  pre: 'measure whitespace-pre-wrap break-words rounded-6 bg-ground p-2 text-13',
  hr: 'border-line',
  br: '',
  em: 'italic',
  strong: 'font-semibold',
  code: 'measure',
  a: 'break-words underline',
}
const HEADING = /^h([1-6])$/
const RANK_MAX = 6

type HelpTextProps = {
  nodes: readonly HelpNode[]
  /** The rank of the heading it stands under, on its page. */
  under: number
  quiet?: boolean
}

/** A help text as it was laid out. Its elements come from a closed list; nothing of it is ever read as HTML here. */
export function HelpText({ nodes, under, quiet = false }: HelpTextProps) {
  return <div className={`grid gap-2 break-words ${quiet ? 'text-13 text-quiet' : ''}`}>{toReact(nodes, under)}</div>
}

const toReact = (nodes: readonly HelpNode[], under: number): ReactNode[] =>
  nodes.map((node, i) => {
    // between blocks there are line breaks, which a grid would give places of their own
    if (typeof node === 'string') return node.trim() === '' && node.includes('\n') ? null : node
    const [, rank] = HEADING.exec(node.tag) ?? []
    const Tag = rank ? (`h${Math.min(RANK_MAX, Number(rank) + under)}` as HelpTag) : node.tag
    const look = { className: LOOKS[node.tag] }
    // a laid out text never changes its order
    const key = i
    if (Tag === 'hr' || Tag === 'br') return <Tag key={key} {...look} />
    const children = toReact(node.children, under)
    if (Tag === 'a')
      return (
        <a key={key} {...look} href={node.href} target="_blank" rel="noopener noreferrer nofollow">
          {children}
        </a>
      )
    return (
      <Tag key={key} {...look} {...(node.start === undefined ? {} : { start: node.start })}>
        {children}
      </Tag>
    )
  })
