const BYTES_UNITS = ['bytes', 'KiB', 'MiB', 'GiB'] as const

/** A size for a person: 3 significant figures at most. */
export function formatBytes(bytes: number): string {
  let value = bytes
  let unit = 0
  while (value >= 1024 && unit < BYTES_UNITS.length - 1) {
    value /= 1024
    unit++
  }
  return `${unit === 0 ? value : value.toPrecision(value >= 100 ? 3 : 2).replace(/\.0$/, '')} ${BYTES_UNITS[unit]}`
}

/** A count with its noun, in the plural where it needs one. */
export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${count.toLocaleString('en')} ${count === 1 ? one : many}`
