import { Navigate, type RouteObject } from 'react-router'
import { CompareRoute } from './compare.tsx'
import { FirstOwnerRoute } from './first-owner.tsx'
import { GatherRoute } from './gather.tsx'
import { GrainsRoute } from './grains.tsx'
import { HandOutRoute } from './hand-out.tsx'
import { NotFoundRoute } from './not-found.tsx'
import { PackRoute } from './pack.tsx'
import { PersonRoute } from './person.tsx'
import { FrameRoute } from './shell.tsx'
import { SignInRoute } from './sign-in.tsx'
import { SortRoute } from './sort.tsx'
import { TuneRoute } from './tune.tsx'

export const routes: RouteObject[] = [
  { path: '/sign-in', element: <SignInRoute /> },
  { path: '/first-owner', element: <FirstOwnerRoute /> },
  { path: '/h/:token', element: <PersonRoute /> },
  {
    path: '/',
    element: <FrameRoute />,
    children: [
      { index: true, element: <Navigate to="/sort" replace /> },
      { path: 'gather', element: <GatherRoute /> },
      { path: 'tune/:brushId?', element: <TuneRoute /> },
      { path: 'sort', element: <SortRoute /> },
      { path: 'compare', element: <CompareRoute /> },
      { path: 'sort/grains', element: <GrainsRoute /> },
      { path: 'hand-out', element: <HandOutRoute /> },
      { path: 'hand-out/:packId', element: <PackRoute /> },
      { path: '*', element: <NotFoundRoute /> },
    ],
  },
]
