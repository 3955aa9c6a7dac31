import { type ComponentType, lazy } from 'react'

/**
 * A part of a page that is fetched when it is first shown. Where its code does not come it says so in its place, and the page
 * stays.
 */
export function fetched<Props>(load: () => Promise<{ default: ComponentType<Props> }>) {
  return lazy(() => load().catch((): { default: ComponentType<Props> } => ({ default: Missing })))
}

const Missing = () => (
  <p role="alert" className="p-2 text-12 text-quiet">
    This part of the page did not come; reload it to see it.
  </p>
)
