import { Navigate, type RouteObject } from 'react-router'
import { Loading } from '../components/states.tsx'
import { FaultRoute } from './fault.tsx'

const Waiting = () => <Loading what="the page" />

/** Each view is a file of its own over the wire, fetched when it is first gone to. */
const view = (load: () => Promise<{ Component: React.ComponentType }>) => ({ lazy: load, HydrateFallback: Waiting })

/** The curator's views; the page of a person with a link is no part of them, see `main.tsx`. */
export const routes: RouteObject[] = [
  { path: '/sign-in', ...view(async () => ({ Component: (await import('./sign-in.tsx')).SignInRoute })) },
  { path: '/first-owner', ...view(async () => ({ Component: (await import('./first-owner.tsx')).FirstOwnerRoute })) },
  { path: '/reset/:token', ...view(async () => ({ Component: (await import('./reset.tsx')).ResetRoute })) },
  { path: '/i/:token', ...view(async () => ({ Component: (await import('./join.tsx')).JoinRoute })) },
  // a page to print stands outside the shell
  { path: '/hand-out/:packId/cards', ...view(async () => ({ Component: (await import('./cards.tsx')).CardsRoute })) },
  {
    path: '/',
    ...view(async () => ({ Component: (await import('./shell.tsx')).ShellRoute })),
    errorElement: <FaultRoute />,
    children: [
      {
        errorElement: <FaultRoute />,
        children: [
          { index: true, element: <Navigate to="/sort" replace /> },
          { path: 'gather', ...view(async () => ({ Component: (await import('./gather.tsx')).GatherRoute })) },
          { path: 'make', ...view(async () => ({ Component: (await import('./make.tsx')).MakeRoute })) },
          { path: 'make/frames/:brushId', ...view(async () => ({ Component: (await import('./frames.tsx')).FramesRoute })) },
          { path: 'make/:sourceId', ...view(async () => ({ Component: (await import('./make-source.tsx')).MakeSourceRoute })) },
          { path: 'tune/:brushId?', ...view(async () => ({ Component: (await import('./tune.tsx')).TuneRoute })) },
          { path: 'sort', ...view(async () => ({ Component: (await import('./sort.tsx')).SortRoute })) },
          { path: 'compare', ...view(async () => ({ Component: (await import('./compare.tsx')).CompareRoute })) },
          { path: 'sort/grains', ...view(async () => ({ Component: (await import('./grains.tsx')).GrainsRoute })) },
          { path: 'sort/same', ...view(async () => ({ Component: (await import('./same-marks.tsx')).SameMarksRoute })) },
          { path: 'sort/sets', ...view(async () => ({ Component: (await import('./two-sets.tsx')).TwoSetsRoute })) },
          { path: 'sort/looks-like', ...view(async () => ({ Component: (await import('./looks-like.tsx')).LooksLikeRoute })) },
          { path: 'fit', ...view(async () => ({ Component: (await import('./fit.tsx')).FitRoute })) },
          { path: 'fit/destinations', ...view(async () => ({ Component: (await import('./destinations.tsx')).DestinationsRoute })) },
          { path: 'fit/installs', ...view(async () => ({ Component: (await import('./installs.tsx')).InstallsRoute })) },
          { path: 'gather/loose-ends', ...view(async () => ({ Component: (await import('./gather-loose-ends.tsx')).GatherLooseEndsRoute })) },
          { path: 'gather/followed', ...view(async () => ({ Component: (await import('./followed.tsx')).FollowedRoute })) },
          { path: 'gather/exchange', ...view(async () => ({ Component: (await import('./exchange.tsx')).ExchangeRoute })) },
          { path: 'gather/exchange/:host/:item', ...view(async () => ({ Component: (await import('./exchange-item.tsx')).ExchangeItemRoute })) },
          { path: 'gather/newer', ...view(async () => ({ Component: (await import('./gather-newer.tsx')).GatherNewerRoute })) },
          { path: 'fit/loose-ends', ...view(async () => ({ Component: (await import('./loose-ends.tsx')).LooseEndsRoute })) },
          { path: 'fit/trace', ...view(async () => ({ Component: (await import('./trace.tsx')).TraceRoute })) },
          { path: 'fit/app/:standIn', ...view(async () => ({ Component: (await import('./stand-in.tsx')).StandInRoute })) },
          { path: 'members', ...view(async () => ({ Component: (await import('./members.tsx')).MembersRoute })) },
          { path: 'hand-out', ...view(async () => ({ Component: (await import('./hand-out.tsx')).HandOutRoute })) },
          { path: 'hand-out/:packId', ...view(async () => ({ Component: (await import('./pack.tsx')).PackRoute })) },
          { path: 'hand-out/:packId/brushes', ...view(async () => ({ Component: (await import('./pack-brushes.tsx')).PackBrushesRoute })) },
          { path: 'hand-out/:packId/people', ...view(async () => ({ Component: (await import('./people.tsx')).PeopleRoute })) },
          { path: 'hand-out/shops', ...view(async () => ({ Component: (await import('./shops.tsx')).ShopsRoute })) },
          { path: 'hand-out/:packId/editions', ...view(async () => ({ Component: (await import('./editions.tsx')).EditionsRoute })) },
          { path: 'hand-out/:packId/editions/:editionId', ...view(async () => ({ Component: (await import('./edition.tsx')).EditionRoute })) },
          { path: 'hand-out/:packId/figures', ...view(async () => ({ Component: (await import('./figures.tsx')).FiguresRoute })) },
          { path: 'hand-out/:packId/check', ...view(async () => ({ Component: (await import('./check-list.tsx')).CheckListRoute })) },
          { path: 'hand-out/:packId/difference', ...view(async () => ({ Component: (await import('./difference.tsx')).DifferenceRoute })) },
          { path: '*', ...view(async () => ({ Component: (await import('./not-found.tsx')).NotFoundRoute })) },
        ],
      },
    ],
  },
] // biome-ignore format: one line a view
