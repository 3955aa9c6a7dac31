import { SET_MARKS, type SetMark } from '@satchel/core/forms/set-marks'

/** Each mark as lines of one width in a square of 16. */
const LINES: Record<SetMark, string> = {
  wave: 'M1.5 6c2.2-2 4.4-2 6.5 0s4.3 2 6.5 0M1.5 10.5c2.2-2 4.4-2 6.5 0s4.3 2 6.5 0',
  leaf: 'M3 13C3 6.5 7 3 13 3c0 6-3.5 10-10 10Zm0 0 5.5-5.5',
  drop: 'M8 2c3 3.8 4.5 6 4.5 8a4.5 4.5 0 0 1-9 0c0-2 1.5-4.2 4.5-8Z',
  shell: 'M8 13.5 2.4 7.4a5.9 5.9 0 0 1 11.2 0ZM8 13.5 6 3.8M8 13.5l2-9.7',
  pebbles: 'M1.8 10.6a3.2 2.6 0 1 0 6.4 0a3.2 2.6 0 1 0-6.4 0ZM8.6 5.8a2.8 2.3 0 1 0 5.6 0a2.8 2.3 0 1 0-5.6 0Z',
  rope: 'M4 13c0-3.4 8-1.6 8-5S4 6.4 4 3M12 13c0-3.4-8-1.6-8-5s8-1.6 8-5',
  reed: 'M8 14V2.5M8 8.5C5.8 7.6 4.6 6 4.6 3.4M8 11c2.2-.9 3.4-2.5 3.4-5.1',
  knot: 'M5 11a3 3 0 1 1 3-3v0a3 3 0 1 0 3-3M5 11H2M11 5h3',
  slab: 'M2.5 5.5h11v6h-11Z',
  sun: 'M3.5 11a4.5 4.5 0 0 1 9 0M1.5 11h13M8 3v1.6M2.9 5.4l1.2 1.1M13.1 5.4l-1.2 1.1',
}

/** The mark of a set's label; the eyelet where it has none. */
export function SetMarkIcon({ mark }: { mark: SetMark | '' }) {
  if (mark === '') return <span className="eyelet" aria-hidden />
  return (
    <svg viewBox="0 0 16 16" className="-ml-0.5 h-4 w-4 shrink-0 text-quiet" aria-hidden data-mark={SET_MARKS[mark]}>
      <path
        d={LINES[mark]}
        fill="none"
        stroke="currentColor"
        strokeWidth="1.4"
        strokeLinecap="round"
        strokeLinejoin="round"
      />
    </svg>
  )
}
