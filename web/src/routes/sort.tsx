import { usePin } from '../features/pocket/use-pin.ts'
import { LibraryPage } from '../features/sort/library-page.tsx'

export function SortRoute() {
  return <LibraryPage onPin={usePin()} />
}
