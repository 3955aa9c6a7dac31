/** The interface's words for what the recipe calls by short names. */
export const READING_WORD: Record<string, string> = {
  dark: 'dark paints',
  light: 'light paints',
  alpha: 'alpha paints',
  own: 'own colours',
  tone: 'tone',
}

/** Behaviours differ by a mark, not by colour alone. */
export const BEHAVIOUR: Record<string, { mark: string; word: string }> = {
  paint: { mark: '', word: 'paints' },
  erase: { mark: '⊖ erases ·', word: 'erases' },
  smear: { mark: '≋ smears ·', word: 'smears' },
}
