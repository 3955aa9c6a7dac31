import { Link } from 'react-router'
import { buttonLook } from '../components/button.tsx'
import { Empty } from '../components/states.tsx'

export function NotFoundRoute() {
  return (
    <Empty
      title="Nothing lies here"
      action={
        <Link to="/sort" className={buttonLook('primary')}>
          Go to the library
        </Link>
      }
    >
      The address leads to no page. It may have been cut short.
    </Empty>
  )
}
