/**
 * How a mark may differ from the original it looks like, one row a kind: whether a painter sees it, and what is said.
 * `amount` is the kind's own: px, quarters, or nothing.
 */
export type DifferenceKind = keyof typeof DIFFERENCES
export type Difference = { kind: DifferenceKind; amount?: [own: number, original: number] | undefined }

type Row = { seen: boolean; say: (own: number, original: number) => string }

const px = (own: number, original: number) => `${own} px instead of ${original}`
const pictures = (count: number) => (count === 1 ? 'one picture' : `${count} frames`)
const QUARTERS = ['', 'turned by a quarter', 'turned by half', 'turned by three quarters']

export const DIFFERENCES = {
  smaller: { seen: false, say: px },
  larger: { seen: true, say: px },
  margin: { seen: false, say: () => 'another margin' },
  mirrored: { seen: true, say: () => 'mirrored' },
  turned: { seen: true, say: (quarters) => QUARTERS[quarters] ?? '' },
  inverted: { seen: true, say: () => 'inverted' },
  fainter: { seen: true, say: () => 'fainter' },
  stronger: { seen: true, say: () => 'stronger' },
  tinted: { seen: true, say: () => 'its ground paints too' },
  shading: { seen: true, say: () => 'other shading' },
  colour: { seen: true, say: () => 'other colour' },
  frames: { seen: true, say: (own, original) => `${pictures(own)} instead of ${pictures(original)}` },
  detail: { seen: true, say: () => 'differs in detail' },
} as const satisfies Record<string, Row>

export const isSeen = ({ kind }: Difference): boolean => DIFFERENCES[kind].seen

/** "Same mark, 60 px instead of 80, another margin." */
export function describeDifferences(differences: readonly Difference[]): string {
  const said = differences.map(({ kind, amount }) => (DIFFERENCES[kind] as Row).say(...(amount ?? [0, 0])))
  const lead = differences.some(isSeen) ? 'Same shape' : 'Same mark'
  return [lead, ...said].join(', ')
}
