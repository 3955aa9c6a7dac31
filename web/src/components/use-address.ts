import { useEffect, useState } from 'react'
import { useLocation, useNavigationType, useSearchParams } from 'react-router'

type Values = Record<string, string | number | undefined>

/** An address with parts changed; undefined or an empty text takes a part out. */
export function changeParams(params: URLSearchParams, next: Values): URLSearchParams {
  const changed = new URLSearchParams(params)
  for (const [key, value] of Object.entries(next)) {
    if (value === undefined || value === '') changed.delete(key)
    else changed.set(key, String(value))
  }
  return changed
}

/** Marks the entries of the history that are written from here. */
export const OWN = { isToldByThePage: true }

/**
 * What the page has in its address, and how to change it. Turning the address takes its time: the page goes by what was
 * chosen last, so that quick keys, typing and dragging never meet the value of before. What the address says by itself
 * (back, a link) is taken over.
 */
export function useAddress(): [URLSearchParams, (values: Values) => void] {
  const [search, setSearch] = useSearchParams()
  const [wanted, setWanted] = useState(search)
  const location = useLocation()
  const isOwn = useNavigationType() === 'REPLACE' && location.state?.isToldByThePage === OWN.isToldByThePage
  // biome-ignore lint/correctness/useExhaustiveDependencies: taken over once, when the address has moved by itself
  useEffect(() => {
    if (!isOwn) setWanted(search)
  }, [location.key])
  // biome-ignore lint/correctness/useExhaustiveDependencies: told when the page wants something else, not the other way
  useEffect(() => {
    if (wanted.toString() !== search.toString()) setSearch(wanted, { replace: true, state: OWN })
  }, [wanted])
  return [wanted, (values) => setWanted((before) => changeParams(before, values))]
}
