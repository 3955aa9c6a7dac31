const MARK: Record<string, { sign: string; word: string }> = {
  erase: { sign: '⊖', word: 'erases' },
  smear: { sign: '≋', word: 'smears' },
}

/** Tells brushes that take away or move paint from those that add it, by a sign and a word; those that add it need none. */
export function BehaviourMark({ behaviour, brief = false }: { behaviour: string; brief?: boolean }) {
  const mark = MARK[behaviour]
  if (!mark) return null
  return (
    // relative: hidden words are laid out of the flow, and would widen the page from inside a strip that scrolls
    <span title={mark.word} className="relative whitespace-nowrap">
      <span aria-hidden>{mark.sign}</span> <span className={brief ? 'sr-only' : ''}>{mark.word}</span>
    </span>
  )
}
