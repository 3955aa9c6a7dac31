/** From which likeness a ring is full, and half. */
const FULL_FROM = 90
const HALF_FROM = 65

const WORDS = { full: 'much alike', half: 'partly alike', open: 'hardly alike' } as const
type Grade = keyof typeof WORDS

export const gradeOf = (score: number): Grade => (score >= FULL_FROM ? 'full' : score >= HALF_FROM ? 'half' : 'open')

/** A likeness as a ring and a figure: full, half or open. */
export function LikenessRing({ score }: { score: number }) {
  const grade = gradeOf(score)
  return (
    <span className="inline-flex items-center gap-1.5">
      <svg viewBox="0 0 16 16" className="h-4 w-4 shrink-0" role="img" aria-label={WORDS[grade]}>
        <title>{WORDS[grade]}</title>
        <circle cx="8" cy="8" r="6.2" fill="none" stroke="var(--saddle)" strokeWidth="1.6" />
        {grade === 'full' && <circle cx="8" cy="8" r="3.6" fill="var(--saddle)" />}
        {grade === 'half' && <path d="M8 4.4a3.6 3.6 0 0 0 0 7.2Z" fill="var(--saddle)" />}
      </svg>
      <span className="measure">{score.toFixed(0)}</span>
    </span>
  )
}
