import { plural } from '../../components/format.ts'
import type { verifyInstall } from '../../data/installs.ts'

type ReadBack = Awaited<ReturnType<typeof verifyInstall>>

/** What the app finds of an install, and how like themselves its brushes paint there. */
export function ReadBackLine({ read: { found, drift, likeness } }: { read: ReadBack }) {
  const isWell = drift.length === 0 && (found === null || (found.passedOver.length === 0 && found.blank.length === 0))
  return (
    <p role="status" className={`text-13 ${isWell ? 'text-moss' : 'text-madder'}`}>
      {found && (
        <>
          The app finds {plural(found.brushes, 'brush', 'brushes')}
          {isWell && ', and each of them paints'}
          {found.blank.length > 0 && `; ${found.blank.join(', ')} paint nothing`}
          {found.passedOver.map(({ path, why }) => `; ${path}: ${why}`).join('')}
          {'. '}
        </>
      )}
      {likeness && `Likeness ${likeness.middle.toFixed(0)} in the middle, ${likeness.least.toFixed(0)} at least.`}
    </p>
  )
}
