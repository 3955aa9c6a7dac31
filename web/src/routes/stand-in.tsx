import { STAND_INS } from '@satchel/core/destinations/destination'
import { useParams } from 'react-router'
import { AppPage } from '../features/stand-in/app-page.tsx'

export function StandInRoute() {
  const { standIn: wanted } = useParams()
  const standIn = STAND_INS.find((each) => each === wanted)
  return standIn ? <AppPage standIn={standIn} /> : <p className="p-10 text-center">No app is called like that.</p>
}
