import { HEAVY_TIP_SIDE_PX } from '../limits.ts'

/** How much a finding matters, what matters most first: a release waits for it, it deserves care, or it is told. */
export const WEIGHTS = ['stops', 'care', 'told'] as const
export type Weight = (typeof WEIGHTS)[number]

/** What mends a finding by itself. */
export const MENDS = {
  smaller: `Make a ${HEAVY_TIP_SIDE_PX} px copy`,
  evenOut: 'Even them out',
  blacken: 'Make the shadow black',
  dropFrames: 'Take those frames out',
  strokeThumbnail: 'Take the stroke as picture',
  closeSeam: 'Close the seam',
  takeMaker: 'Take the maker of the pack',
  takeLicence: 'Take the licence of the pack',
  numberName: 'Give it a number',
  lookedAt: 'I have looked at it',
} as const
export type Mend = keyof typeof MENDS

/** Where a finding is mended by hand. */
export type Place = 'tune' | 'frames' | 'grains' | 'pack' | 'fit'

export type Rule = {
  /** What all findings of this kind are called together. */
  title: string
  weight: Weight
  /** Why it matters. */
  why: string
  mend?: Mend
  place: Place
}

/** Every rule of the check list, one row each, in the order in which findings are shown within a weight. */
export const RULES = {
  empty: {
    title: 'Nothing in the pack',
    weight: 'stops',
    why: 'A release of nothing helps nobody.',
    place: 'pack',
  },
  notMeasured: {
    title: 'Brushes that could not be looked at',
    weight: 'care',
    why: 'Nothing is known of how they paint.',
    place: 'tune',
  },
  noName: {
    title: 'Brushes without a name of their own',
    weight: 'care',
    why: 'Whoever paints with it finds it by its name.',
    place: 'tune',
  },
  sameName: {
    title: 'Names that are there twice',
    weight: 'care',
    why: 'In a folder the second of a name is numbered, and nobody knows which is which.',
    mend: 'numberName',
    place: 'tune',
  },
  likeName: {
    title: 'Names that look alike',
    weight: 'told',
    why: 'Names that differ by a sign one hardly sees are taken for one another.',
    place: 'tune',
  },
  otherNameThere: {
    title: 'Names that an app does not take',
    weight: 'told',
    why: 'It is called otherwise there than in your help text.',
    place: 'tune',
  },
  thumbnailBlank: {
    title: 'Thumbnails that show nothing',
    weight: 'care',
    why: 'A blank picture in a list says nothing of the brush behind it.',
    mend: 'strokeThumbnail',
    place: 'tune',
  },
  thumbnailStale: {
    title: 'Thumbnails of how a brush was',
    weight: 'care',
    why: 'The picture was made once, and the brush has changed since.',
    mend: 'strokeThumbnail',
    place: 'tune',
  },
  grainGone: {
    title: 'Grains that are gone',
    weight: 'stops',
    why: 'Without its grain the brush paints otherwise.',
    place: 'tune',
  },
  seam: {
    title: 'Grains whose seam shows',
    weight: 'care',
    why: 'A tile that does not join itself draws a grid into every wash.',
    mend: 'closeSeam',
    place: 'grains',
  },
  stripSeam: {
    title: 'Strips whose seam shows',
    weight: 'care',
    why: 'Where the strip begins anew a step is seen. Look for where it joins, under Path.',
    place: 'tune',
  },
  framesBlank: {
    title: 'Frames that paint nothing',
    weight: 'care',
    why: 'Where such a frame comes, the stroke has a hole.',
    mend: 'dropFrames',
    place: 'frames',
  },
  framesUnused: {
    title: 'Frames that never come',
    weight: 'care',
    why: 'They are handed on, and nobody ever sees them.',
    mend: 'dropFrames',
    place: 'frames',
  },
  framesUneven: {
    title: 'Frames that stand out',
    weight: 'told',
    why: 'One frame that is larger or paler than its neighbours is seen again and again in a stroke.',
    mend: 'evenOut',
    place: 'frames',
  },
  framesSame: {
    title: 'Frames that look the same',
    weight: 'told',
    why: 'A frame twice makes the stroke repeat itself sooner.',
    place: 'frames',
  },
  greyShadow: {
    title: 'Shadows that take on the colour',
    weight: 'care',
    why: 'A grey shadow that lets through becomes coloured when the mark is; black that lets through stays a shadow.',
    mend: 'blacken',
    place: 'frames',
  },
  heavy: {
    title: 'Heavy tips',
    weight: 'care',
    why: 'Large tips are slow to paint with, and some apps refuse them.',
    mend: 'smaller',
    place: 'tune',
  },
  margins: {
    title: 'Wide margins',
    weight: 'told',
    why: 'Size and spacing count from the picture, margins too, so the mark comes out smaller than its figure says.',
    place: 'frames',
  },
  nothingShows: {
    title: 'Strokes that do not show',
    weight: 'stops',
    why: 'Whoever paints with it sees nothing, and takes it for broken.',
    place: 'tune',
  },
  twice: {
    title: 'The same brush twice',
    weight: 'care',
    why: 'Two that paint the same make the pack longer, not richer.',
    place: 'pack',
  },
  alike: {
    title: 'Tips that look alike',
    weight: 'told',
    why: 'The same mark under two names is what people notice first in a pack.',
    place: 'pack',
  },
  noLicence: {
    title: 'No licence',
    weight: 'stops',
    why: 'Without a licence nobody may use what they get.',
    place: 'pack',
  },
  licenceForbids: {
    title: 'Licences that do not go together',
    weight: 'stops',
    why: 'What a brush was given to you under goes before what you hand it on under. Advice, no law: read both.',
    place: 'tune',
  },
  licenceMissing: {
    title: 'Brushes without a licence',
    weight: 'told',
    why: 'They go out under the licence of the pack; see that this is right.',
    mend: 'takeLicence',
    place: 'tune',
  },
  noMaker: {
    title: 'Brushes without a maker',
    weight: 'told',
    why: 'Most licences ask that the maker is named.',
    mend: 'takeMaker',
    place: 'tune',
  },
  packMaker: {
    title: 'A pack without a maker',
    weight: 'care',
    why: 'Whoever gets it wants to know whose it is.',
    place: 'pack',
  },
  likeness: {
    title: 'Brushes that arrive unlike themselves',
    weight: 'care',
    why: 'In the app they are meant for they paint otherwise than here.',
    place: 'fit',
  },
  noHelp: {
    title: 'No help text',
    weight: 'told',
    why: 'A line on how to begin saves everybody a try.',
    place: 'pack',
  },
  helpNames: {
    title: 'Help that names what is not there',
    weight: 'care',
    why: 'Whoever reads it looks for something that they did not get.',
    place: 'pack',
  },
  noCover: {
    title: 'No cover',
    weight: 'told',
    why: 'The cover is what people see first.',
    place: 'pack',
  },
  changed: {
    title: 'Changed since you looked',
    weight: 'told',
    why: 'What was changed in passing goes out with everything else.',
    mend: 'lookedAt',
    place: 'tune',
  },
} as const satisfies Record<string, Rule>

export type RuleName = keyof typeof RULES
export const RULE_NAMES = Object.keys(RULES) as RuleName[]
