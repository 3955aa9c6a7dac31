import { usePin } from '../features/pocket/use-pin.ts'
import { ComparePage } from '../features/tune/compare-page.tsx'

export function CompareRoute() {
  return <ComparePage onPin={usePin()} />
}
