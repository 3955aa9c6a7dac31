/** What a licence for pictures asks of whoever hands the picture on. */
type Terms = {
  /** The maker is named. */
  names: boolean
  /** Nobody earns by it. */
  noSale: boolean
  /** It stays as it is. */
  noChange: boolean
  /** What is made of it is handed on under the same terms: the licences that count as the same. */
  same?: readonly string[]
}

const FREE: Terms = { names: false, noSale: false, noChange: false }
const BY: Terms = { ...FREE, names: true }
const SA_4 = ['CC-BY-SA-4.0', 'LAL-1.3', 'GPL-3.0-only', 'GPL-3.0-or-later']

/**
 * The open licences that suit pictures, by their SPDX names: https://spdx.org/licenses/, what each asks as its deed says
 * (https://creativecommons.org/licenses/, https://artlibre.org/licence/lal/en/). Which may follow a share-alike one:
 * https://creativecommons.org/compatible-licenses/. Written down from memory, without a look at these pages. Advice, never law.
 */
export const PICTURE_LICENCES: Readonly<Record<string, Terms>> = {
  'CC0-1.0': FREE,
  'CC-PDM-1.0': FREE,
  'Unlicense': FREE,
  'MIT-0': FREE,
  'CC-BY-2.0': BY,
  'CC-BY-2.5': BY,
  'CC-BY-3.0': BY,
  'CC-BY-4.0': BY,
  'MIT': BY,
  'CC-BY-SA-2.0': { ...BY, same: ['CC-BY-SA-2.0', 'CC-BY-SA-2.5', 'CC-BY-SA-3.0', ...SA_4] },
  'CC-BY-SA-3.0': { ...BY, same: ['CC-BY-SA-3.0', ...SA_4] },
  'CC-BY-SA-4.0': { ...BY, same: SA_4 },
  'LAL-1.3': { ...BY, same: ['LAL-1.3', 'CC-BY-SA-4.0'] },
  'CC-BY-NC-3.0': { ...BY, noSale: true },
  'CC-BY-NC-4.0': { ...BY, noSale: true },
  'CC-BY-NC-SA-3.0': { ...BY, noSale: true, same: ['CC-BY-NC-SA-3.0', 'CC-BY-NC-SA-4.0'] },
  'CC-BY-NC-SA-4.0': { ...BY, noSale: true, same: ['CC-BY-NC-SA-4.0'] },
  'CC-BY-ND-3.0': { ...BY, noChange: true },
  'CC-BY-ND-4.0': { ...BY, noChange: true },
  'CC-BY-NC-ND-3.0': { ...BY, noSale: true, noChange: true },
  'CC-BY-NC-ND-4.0': { ...BY, noSale: true, noChange: true },
} // biome-ignore format: a table

/**
 * Why a brush under one licence should not go out in a pack under another, in words; undefined where nothing is known against
 * it. What neither of the two is in the table of says nothing.
 */
export function whyNotTogether(own: string, pack: string): string | undefined {
  if (own === '' || own === pack) return undefined
  const [asks, gives] = [PICTURE_LICENCES[own], PICTURE_LICENCES[pack]]
  if (!asks || !gives) return undefined
  if (asks.same && !asks.same.includes(pack)) return `${own} asks that what is made of it goes on under the same terms`
  if (asks.noSale && !gives.noSale) return `${own} forbids to earn by it, and ${pack} allows that`
  if (asks.noChange && !gives.noChange) return `${own} forbids to change it, and ${pack} allows that`
  if (asks.names && !gives.names) return `${own} asks that its maker is named, and ${pack} does not`
  return undefined
}
