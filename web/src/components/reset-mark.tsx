import { RotateCcw } from 'lucide-react'

/** A mark beside a control that has been changed; it puts the control back. */
export function ResetMark({ label, onReset }: { label: string; onReset: () => void }) {
  return (
    <button
      type="button"
      aria-label={`Reset ${label}`}
      title="Put it back"
      onClick={onReset}
      className="grid h-6 w-6 place-content-center text-saddle"
    >
      <RotateCcw size={14} aria-hidden />
    </button>
  )
}
