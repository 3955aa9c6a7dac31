/** How often each grey occurs before black and white point are set, and where those stand. */
export function Histogram({ counts, black, white }: { counts: Uint32Array; black: number; white: number }) {
  // the few greys of an even ground would press all others flat
  const sorted = [...counts].sort((a, b) => b - a)
  const top = Math.max(1, sorted[6] ?? 1)
  const path = [...counts].map((count, level) => `L${level},${64 - 62 * Math.min(1, Math.sqrt(count / top))}`).join(' ')
  return (
    <figure>
      <svg
        viewBox="0 0 255 64"
        preserveAspectRatio="none"
        className="well block h-20 w-full"
        role="img"
        aria-label={`Greys of the picture; black point ${black}, white point ${white}`}
      >
        <path d={`M0,64 ${path} L255,64 Z`} fill="#8a8a8a" />
        {[black, white].map((level, i) => (
          <line
            key={i === 0 ? 'black' : 'white'}
            x1={level}
            x2={level}
            y1={0}
            y2={64}
            stroke={i === 0 ? '#181818' : 'var(--saddle)'}
            strokeWidth={1.5}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
      <figcaption className="mt-1 flex justify-between text-12 text-quiet">
        <span>paints fully</span>
        <span>ground</span>
      </figcaption>
    </figure>
  )
}
