export { DestinationsPage as DestinationsRoute } from '../features/destinations/destinations-page.tsx'
