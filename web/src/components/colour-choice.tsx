import type { Rgb } from '@satchel/core/raster/srgb'

/** What is painted with until another colour is chosen. */
export const INK: Rgb = { r: 24, g: 24, b: 24 }

/** A small palette of a shore. */
export const SHORE_COLOURS: readonly { name: string; rgb: Rgb }[] = [
  { name: 'Ink', rgb: INK },
  { name: 'Kelp', rgb: { r: 74, g: 92, b: 42 } },
  { name: 'Rope', rgb: { r: 154, g: 98, b: 46 } },
  { name: 'Dulse', rgb: { r: 146, g: 38, b: 54 } },
  { name: 'Sea', rgb: { r: 38, g: 92, b: 122 } },
  { name: 'Foam', rgb: { r: 246, g: 246, b: 240 } },
]

export const toHex = ({ r, g, b }: Rgb) => `#${[r, g, b].map((value) => value.toString(16).padStart(2, '0')).join('')}`
export const fromHex = (hex: string): Rgb => {
  const [r = 0, g = 0, b = 0] = [1, 3, 5].map((at) => Number.parseInt(hex.slice(at, at + 2), 16))
  return { r, g, b }
}

/** The small palette, and a picker for any other colour. */
export function ColourChoice({ colour, onColour }: { colour: Rgb; onColour: (colour: Rgb) => void }) {
  return (
    <fieldset className="flex items-center gap-1.5">
      <legend className="sr-only">Colour</legend>
      {SHORE_COLOURS.map(({ name, rgb }) => (
        <button
          key={name}
          type="button"
          aria-pressed={toHex(rgb) === toHex(colour)}
          aria-label={name}
          title={name}
          onClick={() => onColour(rgb)}
          style={{ background: toHex(rgb) }}
          className={`h-6 w-7 rounded-4 border ${toHex(rgb) === toHex(colour) ? 'outline-2 outline-offset-2 outline-saddle' : 'border-well-line'}`}
        />
      ))}
      <label className="flex items-center gap-1 text-quiet">
        <input
          type="color"
          aria-label="Another colour"
          value={toHex(colour)}
          onChange={(event) => onColour(fromHex(event.target.value))}
          className="h-6 w-8 rounded-4 border border-line bg-raised"
        />
        other
      </label>
    </fieldset>
  )
}
