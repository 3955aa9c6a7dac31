/** How far something is, as a bar with its words beside it. */
export function Progress({ done, total, label }: { done: number; total: number; label: string }) {
  return (
    <progress
      aria-label={label}
      value={total > 0 ? done : undefined}
      max={total > 0 ? total : undefined}
      className="h-2 w-full overflow-clip rounded-4 [&::-webkit-progress-bar]:bg-line [&::-webkit-progress-value]:bg-saddle"
    />
  )
}
