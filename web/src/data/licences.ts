import { queryOptions } from '@tanstack/react-query'

export type Licence = { id: string; name: string }

export type Licences = {
  /** The dozen that suit pictures, and the others for works and data. */
  usual: Licence[]
  others: Licence[]
  /** What every licence of the list is called, those for software, too: somebody may have chosen one before. */
  names: Record<string, string>
}

/** Those by which pictures are usually given away, by their SPDX names, the freest first. */
const USUAL = [
  'CC0-1.0',
  'CC-PDM-1.0',
  'CC-BY-4.0',
  'CC-BY-SA-4.0',
  'LAL-1.3',
  'CC-BY-NC-4.0',
  'CC-BY-NC-SA-4.0',
  'CC-BY-ND-4.0',
  'CC-BY-NC-ND-4.0',
  'CC-BY-3.0',
  'CC-BY-SA-3.0',
  'CC-BY-NC-3.0',
]
/** Families of licences for works and data; what is left of the SPDX list is for software. */
const FOR_WORKS = /^(CC|LAL|GFDL|PDDL|ODC|ODbL|OGL|NLOD|DL-DE|CDLA|C-UDA|etalab)-/

/** The SPDX list ships with the page, in a part of its own that is fetched when a licence is to be chosen. */
export const licencesQuery = queryOptions({
  queryKey: ['licences'],
  staleTime: Number.POSITIVE_INFINITY,
  queryFn: async (): Promise<Licences> => {
    const { default: list } = await import('spdx-license-list')
    const toLicence = (id: string): Licence[] => (list[id] ? [{ id, name: list[id].name }] : [])
    return {
      usual: USUAL.flatMap(toLicence),
      others: Object.keys(list)
        .filter((id) => FOR_WORKS.test(id) && !USUAL.includes(id))
        .sort((a, b) => a.localeCompare(b, 'en'))
        .flatMap(toLicence),
      names: Object.fromEntries(Object.entries(list).map(([id, { name }]) => [id, name])),
    }
  },
})
