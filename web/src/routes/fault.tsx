import { RotateCw } from 'lucide-react'
import { Link, useRouteError } from 'react-router'
import { Button, buttonLook } from '../components/button.tsx'
import { Empty } from '../components/states.tsx'

/** What is seen where a view ends by a fault of ours, or its code does not come; the rest of the page stays. */
export function FaultRoute() {
  const error = useRouteError()
  return (
    <div role="alert">
      <Empty
        title="This view has stopped"
        action={
          <span className="flex flex-wrap justify-center gap-2">
            <Button kind="primary" onClick={() => window.location.reload()}>
              <RotateCw size={18} aria-hidden /> Open it again
            </Button>
            <Link to="/sort" reloadDocument className={buttonLook('plain')}>
              Go to the library
            </Link>
          </span>
        }
      >
        What was saved is safe. {error instanceof Error && <span className="measure">{error.message}</span>}
      </Empty>
    </div>
  )
}
